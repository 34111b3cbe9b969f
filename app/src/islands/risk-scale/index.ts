export { RiskScale, useMarker, type Patients } from './RiskScale.tsx';
export { makePatients } from './patients.ts';
