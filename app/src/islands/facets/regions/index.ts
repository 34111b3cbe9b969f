export { RegionMap } from './RegionMap.tsx';
