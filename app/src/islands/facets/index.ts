export { Facets } from './Facets.tsx';
