export { binInputs, type Binned } from './binned.ts';
export { growTree, type GrowRules } from './grow.ts';
export { pruningSequence, type Pruned, type PruningSequence } from './prune.ts';
export { levelTarget, numberTarget, type Criterion, type Target } from './target.ts';
export { childOf, leavesOf, nodeCount, type Tree } from './tree.ts';
