export {
  fewerFields,
  fewerFits,
  fewerPlanSchema,
  fewerTried,
  fewerWays,
  setsOf,
  usualHalves,
  type FewerPlan,
  type FewerWay,
} from './plan.ts';
export { rankPredictors, type FewerTask } from './rank.ts';
export { halfSamples } from './splits.ts';
export { steadiness, type Steadiness } from './steady.ts';
export { tryFewer, type FewerOnPart } from './try-fewer.ts';
