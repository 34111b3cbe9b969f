export { binInputs, type Binned } from './binned.ts';
export { triedSizes, type Sizes, type TriedSize } from './choose-size.ts';
export { growTree, type GrowRules } from './grow.ts';
export { innerFolds } from './inner-folds.ts';
export { brierLoss, costLoss, sharesOf, squaredLoss, type LeafLoss } from './losses.ts';
export { pruningSequence, type Pruned, type PruningSequence } from './prune.ts';
export { levelTarget, numberTarget, type Criterion, type Target } from './target.ts';
export { childOf, endedAt, leavesOf, nodeCount, type Tree } from './tree.ts';
