export { effectOf, type Band, type EffectShown } from './effect.ts';
export { askAlteredOf, askOf } from './ask-model.ts';
export {
  explain,
  explainer,
  isOrderCertain,
  strongest,
  type Explained,
  type ExplainedPatient,
} from './explain.ts';
export { smallestChanges, type Turn } from './smallest-changes.ts';
export { inRules, type InRules } from './in-rules.ts';
export { onTheWhole, type OnTheWhole } from './on-the-whole.ts';
export { strongestPairs, type Pair } from './strongest-pairs.ts';
export { overDirections, overTwo, type Direction, type OverDirections } from './two-at-once.ts';
export { addedUp, type AddedUp } from './added-up.ts';
export { accumulatedEffect, type Accumulated } from './accumulated.ts';
export {
  columnNamed,
  inLevelsOf,
  isKnown,
  rowCountOf,
  takenRows,
  valuesOf,
  type Ask,
  type AskAltered,
  type Value,
} from './ask.ts';
export { comparedWith, contributionsOf, mostExact, type Contributions } from './contributions.ts';
export { interaction, partialDependence, saidWith } from './partial-dependence.ts';
export { permutePart, type PermuteTask } from './permute-part.ts';
export { mostSimilar, type Similar } from './similar.ts';
export { askPermuted, type Moved, type Permuted } from './permuted.ts';
export {
  worthMeasures,
  worthsOf,
  type Happened,
  type Worth,
  type WorthMeasure,
  type Worths,
} from './worth.ts';
