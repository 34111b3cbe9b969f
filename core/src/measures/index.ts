export { countCalled, rankRisks, splitByOutcome, type RankedRisks } from './ranked.ts';
export { errorTable, type ErrorTable } from './error-table.ts';
export { ratioInterval, wilsonInterval, type Interval } from './intervals.ts';
export { ratesOf, type Figure, type Rate, type Rates } from './rates.ts';
export { areaOfCounts, areaUnderCurve, rocPoints, type Area, type RocPoint } from './roc.ts';
export {
  calibratedCutoff,
  costCurve,
  costPerThousand,
  nobodyCutoff,
  referenceCost,
  type CostPoint,
  type ErrorCosts,
} from './costs.ts';
export { chooseCutoff, cutoffRuleSchema, type CutoffRule } from './cutoff.ts';
export { riskDensity, type RiskDensity } from './risk-density.ts';
export { crossValidated, type CrossValidated } from './cross-validated.ts';
