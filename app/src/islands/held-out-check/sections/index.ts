export { RatesTable } from './RatesTable.tsx';
export { Sections } from './Sections.tsx';
