export { randomStream, orderingNumber, type RandomStream } from './streams.ts';
export { normalQuantile, normalUpperTail, twoSidedNormalP, z95 } from './normal.ts';
export { chiSquareUpperTail, fUpperTail, tQuantile, twoSidedTP } from './tails.ts';
export { factorise, invert, solve, type Factor } from './positive-definite.ts';
export { symmetricEigen, type Eigen } from './symmetric-eigen.ts';
export { maximiseOne } from './maximise-one.ts';
export { quantile, sortedPresent, sortedQuantile } from './quantile.ts';
export { logistic } from './logistic.ts';
