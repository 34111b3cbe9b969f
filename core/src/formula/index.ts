export { FormulaError } from './error.ts';
export { deriveColumn, DerivedColumnError } from './derive.ts';
export { readFormula, type Formula } from './check.ts';
export { evaluateFormula, kindOf, rowsWhere } from './evaluate.ts';
export { functions, type FormulaFunction } from './functions.ts';
export { columnReferences } from './references.ts';
export { columnReference } from './write.ts';
