export { DensitiesTable } from './DensitiesTable.tsx';
