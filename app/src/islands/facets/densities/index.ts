export { Curves, Facing } from './Curves.tsx';
export { DensitiesTable } from './DensitiesTable.tsx';
