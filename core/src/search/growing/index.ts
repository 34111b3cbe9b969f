export { growthOf, type GrowingPoint, type Growth } from './expected.ts';
export { growingFields, growingPlanSchema, growingTried, type GrowingPlan } from './plan.ts';
export { tryGrowing, type GrowingTask } from './try-growing.ts';
