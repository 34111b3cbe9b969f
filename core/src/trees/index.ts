export { alteredSums } from './altered-sums.ts';
export { binCodes, binInputs, type Binned, type BinnedCodes } from './binned.ts';
export type { MeanLoss } from './boosting/losses.ts';
export { boost, type Boosted, type BoostRules, type BoostTask } from './boosting/boost.ts';
export { triedSizes, type Sizes, type TriedSize } from './choose-size.ts';
export { addLeaves, EnsembleBuilder, treeCount, type Ensemble } from './ensemble.ts';
export type { Directions } from './directions.ts';
export { growForest, samplesOf, type Forest, type ForestTask } from './forest/forest.ts';
export { compiledGrower } from './forest/compiled.ts';
export { PlainGrower, type ForestRules, type Leaf } from './forest/grow.ts';
export { outOfBag, type OutOfBag } from './forest/out-of-bag.ts';
export type { Sampling } from './forest/sample.ts';
export { growTree, type GrowRules } from './grow.ts';
export { innerFolds, stableOrder } from './inner-folds.ts';
export { brierLoss, costLoss, sharesOf, squaredLoss, type LeafLoss } from './losses.ts';
export {
  growIsolationForest,
  isolationScores,
  usualPath,
  type IsolationForest,
} from './isolation.ts';
export { pathContributions, type PathContributions } from './path-contributions.ts';
export { pruningSequence, type Pruned, type PruningSequence } from './prune.ts';
export { levelTarget, numberTarget, type Criterion, type Target } from './target.ts';
export { asEnsemble } from './tree-ensemble.ts';
export { childOf, endedAt, leavesOf, nodeCount, type Ended, type Tree } from './tree.ts';
