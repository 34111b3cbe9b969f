export { Curves, drawingWidth, Facing, facingHeight } from './Curves.tsx';
export { DensitiesTable } from './DensitiesTable.tsx';
