export { ErrorTableView } from './ErrorTableView.tsx';
export { LevelErrors, NumberErrors } from './sections/index.ts';
export { wholeOf } from './whole.ts';
