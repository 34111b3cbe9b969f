export {
  countCalled,
  nobodyCutoff,
  rankRisks,
  splitByOutcome,
  type PatientCosts,
  type RankedRisks,
} from './ranked.ts';
export { errorTable, type ErrorTable } from './error-table.ts';
export { ratioInterval, wilsonInterval, type Interval } from './intervals.ts';
export { rate, ratesOf, type Figure, type Rate, type Rates } from './rates.ts';
export { areaOfCounts, areaUnderCurve, rocPoints, type Area, type RocPoint } from './roc.ts';
export {
  calibratedCutoff,
  costCurve,
  costPerThousand,
  errorSums,
  referenceCost,
  type CostPoint,
  type AllErrorCosts,
  type ErrorCosts,
  type ErrorSums,
} from './costs.ts';
export { chooseCutoff, cutoffRuleSchema, readable, type CutoffRule } from './cutoff.ts';
export {
  calibrationGroups,
  calibrationOf,
  localCurve,
  recalibration,
  type Calibration,
  type CalibrationGroup,
  type Estimate,
  type Recalibration,
} from './calibration/index.ts';
export { elsewhere, type Elsewhere } from './elsewhere.ts';
export { liftAmong, type Lift } from './lift.ts';
export {
  benefitCurve,
  netBenefit,
  ratiosWorth,
  type BenefitPoint,
  type RatioRange,
} from './net-benefit.ts';
export { rocBand, type BandPoint } from './roc-band.ts';
export {
  cutoffInterval,
  promiseAndCheck,
  type Promised,
  type PromisedMeasure,
  type Told,
} from './promise.ts';
export { clustersOf, reachOf, takeClusters, variationBetween, type Clusters } from './clusters.ts';
export { crossFittedCutoffs } from './cross-fitted.ts';
export { costFigure } from './cost-figure.ts';
export { groupDifference, type GroupDifference } from './group-difference.ts';
export {
  groupsBy,
  subgroupMeasures,
  subgroupsOf,
  type Subgroup,
  type SubgroupMeasure,
} from './subgroups.ts';
export { precisionRecall, type PrecisionPoint } from './precision-recall.ts';
export { thin } from './thin.ts';
export { riskDensity, type RiskDensity } from './risk-density.ts';
export {
  crossValidated,
  judgeOutOfFold,
  nobodyOf,
  type CrossValidated,
} from './cross-validated.ts';
export { figuresOf, measuresByKind, type Judged, type Measure } from './by-kind.ts';
export { levelKappa, type Agreement } from './level-agreement.ts';
export {
  costPresets,
  giveLevels,
  levelCostPerThousand,
  levelRates,
  levelRule,
  levelReferenceCost,
  levelTable,
  oneLevelForAll,
  type CostPreset,
  type LevelRates,
  type LevelRule,
  type LevelRows,
  type LevelTable,
} from './level-table.ts';
export { levelAreas, type LevelAreas } from './hand-till.ts';
export { numberAgreement, withinTolerance, type NumberAgreement } from './number-agreement.ts';
export { numberErrors, type NumberErrors } from './number-errors.ts';
