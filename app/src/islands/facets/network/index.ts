export { NetworkView } from './NetworkView.tsx';
