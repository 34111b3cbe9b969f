export { DeriveDialog } from './DeriveDialog.tsx';
export { FormulaField } from './FormulaField.tsx';
export { Tried } from './Tried.tsx';
export { useTried } from './use-tried.ts';
