export { randomStream, orderingNumbers, type RandomStream } from './streams.ts';
export { normalQuantile, normalUpperTail, twoSidedNormalP, z95 } from './normal.ts';
export { chiSquareUpperTail, fUpperTail, tQuantile, twoSidedTP } from './tails.ts';
export { factorise, invert, keepOnly, solve, type Factor } from './positive-definite.ts';
export { TallFactor } from './tall-factor.ts';
export { invertTriangle, solveTriangle } from './triangle.ts';
export { symmetricEigen, type Eigen } from './symmetric-eigen.ts';
export { maximiseOne } from './maximise-one.ts';
export { gradesFrom, gradesOf, sharedCounts, sortedGrades, type Grades } from './grades.ts';
export { ascendingOrder } from './ascending-order.ts';
export { gaussLegendre, type Quadrature } from './gauss-legendre.ts';
export { orderStatistics } from './select.ts';
export { quantile, quantiles, sortedPresent, sortedQuantile } from './quantile.ts';
export { risingBlocks, type RisingBlock } from './rising.ts';
export { logistic, softplus } from './logistic.ts';
export {
  blockRows,
  compiledBlock,
  plainBlock,
  productBlock,
  type ProductBlock,
} from './kernels/weighted-products.ts';
export { compiledFirstWords, firstWordsOf, plainFirstWords } from './kernels/sha256.ts';
export {
  compiledExponentials,
  exponentials,
  plainExponentials,
  type Exponentials,
} from './kernels/exponentials.ts';
export {
  compiledDesign,
  designBlocks,
  plainDesign,
  type DesignBlocks,
  type DesignInputs,
} from './kernels/design-blocks.ts';
export {
  columnsInBoxes,
  distanceRoom,
  pointsABlock,
  type DistanceRoom,
  type PointTable,
} from './kernels/distances.ts';
export {
  batchSize,
  networkRoom,
  parametersOf,
  type NetworkRoom,
  type NetworkTask,
} from './kernels/network.ts';
export { alikeRoom, pullRoom, type AlikeRoom, type PullRoom } from './kernels/margins.ts';
export {
  compiledLogLoss,
  logLossBlock,
  lossRows,
  plainLogLoss,
  type LogLossBlock,
  type Rounding,
} from './kernels/log-loss.ts';
export {
  compiledForestRoom,
  type ForestColumns,
  type ForestRoom,
  type GrownNodes,
} from './kernels/forest-tree.ts';
export {
  compiledTreeWalk,
  plainTreeWalk,
  treeWalk,
  walkedRows,
  type TreeWalk,
  type WalkedNodes,
} from './kernels/tree-walk.ts';
export { mostCodes } from './kernels/altered-codes.ts';
export { compiledAlteredWalk, type AlteredWalk } from './kernels/altered-walk.ts';
export {
  compiledPathWalk,
  pathBytes,
  pathRows,
  type PathNodes,
  type PathWalk,
} from './kernels/path-walk.ts';
export {
  compiledTreeRows,
  plainTreeRows,
  treeRows,
  type TreeCells,
  type TreeRows,
} from './kernels/tree-rows.ts';
export { boxCox, boxCoxLambda, powerBound, yeoJohnson, yeoJohnsonLambda } from './power.ts';
