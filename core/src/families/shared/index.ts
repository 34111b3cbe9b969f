export { fillBlock, newBlock } from './blocks.ts';
export { byName } from './by-name.ts';
export { along, centre, uncentre, type Centred } from './centred.ts';
export { directionFields, directionsOf, directionWarnings } from './directions.ts';
export { inflationFactors } from './inflation.ts';
export { iterationsField } from './iterations.ts';
export { askedInputs, ensembleSize, keptEnsemble, leafCount } from './kept-ensemble.ts';
export { keptInputs } from './kept-inputs.ts';
export { levelWarnings } from './level-warnings.ts';
export { countCodes, devianceOfShares, likelihoodSummary, slopesOf } from './likelihood.ts';
export { settle, type Settled, type State } from './newton.ts';
export { withinNullSpace } from './null-space.ts';
export { permutedImportance } from './permuted.ts';
export { isRestless } from './restless.ts';
export { largeCohort, sampleOf } from './sample.ts';
export { tellsAlone, type ToldAlone } from './tells-alone.ts';
export { waldLine, waldStatistic } from './wald.ts';
export { leftOut, noInputs, notConverged, oneOutcome } from './warnings.ts';
export { costsInSplitsField, drawnField } from './tree-fields.ts';
export {
  addLogs,
  drawnNumbers,
  drawnOf,
  learnCounts,
  learnKernel,
  learnNormal,
  type Learners,
  type Spread,
} from './spreads/index.ts';
export { learnersOf, priorFields, priorsOf, sharesFromLogs } from './priors.ts';
export { addedLine, addedTerms } from './added.ts';
export { saidFrom, softmax } from './softmax.ts';
export { scaledRows, scalingOf, scalingSchema, type Scaling } from './scaled.ts';
export { dealtBy, fewestToPart, watchedOf } from './watched.ts';
export {
  clusterCovariance,
  clusterVariances,
  scoreOfLine,
  type ClusterVariances,
} from './sandwich.ts';
