export { calibrationOf, type Calibration } from './calibration.ts';
export { calibrationGroups, type CalibrationGroup } from './groups.ts';
export { localCurve } from './local-curve.ts';
export { recalibration, type Estimate, type Recalibration } from './recalibration.ts';
