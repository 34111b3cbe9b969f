export { RegionFigure, RegionMap } from './RegionMap.tsx';
