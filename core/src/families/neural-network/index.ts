export { neuralNetworkFamily } from './neural-network.ts';
