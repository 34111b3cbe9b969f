export { Facets } from './Facets.tsx';
export { LossCurveView } from './ensemble/index.ts';
export { RegionFigure } from './regions/index.ts';
export {
  Leaves,
  parentsOf,
  ruleOf,
  Strata,
  strataOf,
  wayTo,
  type LeafRow,
  type TreeWords,
} from './tree/index.ts';
