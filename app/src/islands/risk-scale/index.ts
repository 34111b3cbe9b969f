export { CutoffOf } from './CutoffOf.tsx';
export { ListCalls } from './ListCalls.tsx';
export { RiskScale, useMarker, type Patients } from './RiskScale.tsx';
export type { ScoreScale } from './score-scale.ts';
export { makePatients } from './patients.ts';
export { commonCostsNote, hasOwnCosts } from './own-costs.ts';
