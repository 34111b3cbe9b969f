export { Leaves, type LeafRow } from './Leaves.tsx';
export { Strata } from './Strata.tsx';
export { TreeView } from './TreeView.tsx';
export { parentsOf, strataOf, wayTo } from './shape.ts';
export { ruleOf, type TreeWords } from './words.ts';
