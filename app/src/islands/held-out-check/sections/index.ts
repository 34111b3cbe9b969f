export { LevelErrors } from './Levels.tsx';
export { NumberErrors } from './Numbers.tsx';
export { RatesTable } from './RatesTable.tsx';
export { Sections } from './Sections.tsx';
