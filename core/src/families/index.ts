export {
  canBePart,
  learnsFromPredictors,
  choiceOffered,
  familyDescriptions,
  isRule,
} from './descriptions.ts';
export {
  blended,
  chosenFrom,
  leastSquaresWeights,
  mostParts,
  preparationsWithin,
  saidBy,
  weightedSum,
  type BlendedPart,
} from './blend/index.ts';
export {
  learnRiskMap,
  movedRisk,
  recalibrated,
  type HowMoved,
  type RiskMap,
} from './recalibrated/index.ts';
export { families, familyOf } from './engines.ts';
export {
  dependsOnCosts,
  FitObstacle,
  type Along,
  type Family,
  type FamilyDescription,
  type FitContext,
  type FitResult,
  type Added,
  type Fitted,
  type FitWarning,
  type ModelSize,
  type Neighbours,
  type Saved,
} from './family.ts';
export {
  cellsOf,
  facetOf,
  type Coefficient,
  type BlendShown,
  type CoefficientGroup,
  type Facet,
  type FacetKind,
  type FacetsOf,
  type LikelihoodSummary,
  type Proportionality,
  type RecalibrationShown,
  type ProportionalityTest,
  type RuleSummary,
  type ShownNode,
  type ImportanceShown,
  type LossCurve,
  type DensitiesShown,
  type DensityShown,
  type DiscriminantsShown,
  type MarginShown,
  type NetworkShown,
  type TermsShown,
  type TermTest,
  type PathShown,
  type LossName,
  type MapAxis,
  type RegionsShown,
  type TreeShown,
  type VarianceSummary,
} from './facets.ts';
export { entryOrder } from './penalised/index.ts';
export { ratioTest, type FitShown, type RatioTest } from './nested.ts';
export { ruleObstacle, type Given } from './todays-rule/rule-obstacle.ts';
export { keptSettings, settingsSchema, type SettingField, type Settings } from './settings.ts';
