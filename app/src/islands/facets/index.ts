export { Facets } from './Facets.tsx';
export { LossCurveView } from './ensemble/index.ts';
