export { accepted, hardest, type Criterion } from './criterion.ts';
export { enoughForEvents, largestCoxSnell, type EventPlan } from './events.ts';
export { patientsForWidth, usualSensitivity, widthOfShare } from './held-out.ts';
export { enoughForNumbers, type NumberPlan } from './numbers.ts';
export { coxSnellOfArea } from './r2-of-area.ts';
