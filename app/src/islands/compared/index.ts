export { ComparedFigures } from './ComparedFigures.tsx';
export { DifferencesTable } from './DifferencesTable.tsx';
export { drawnFrom, lettersOf } from './drawn-curves.ts';
export { figureOf, measureNames, signed } from './words.ts';
