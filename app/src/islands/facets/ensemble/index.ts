export { ImportanceTable } from './ImportanceTable.tsx';
export { LossCurveView } from './LossCurveView.tsx';
