export { familyDescriptions } from './descriptions.ts';
export { families, familyOf } from './engines.ts';
export {
  type Family,
  type FamilyDescription,
  type FitContext,
  type FitResult,
  type Fitted,
  type FitWarning,
  type Saved,
} from './family.ts';
export {
  facetOf,
  type Coefficient,
  type CoefficientGroup,
  type Facet,
  type FacetKind,
  type FacetsOf,
  type LikelihoodSummary,
  type Proportionality,
  type ProportionalityTest,
  type VarianceSummary,
} from './facets.ts';
export { settingsSchema, type SettingField, type Settings } from './settings.ts';
