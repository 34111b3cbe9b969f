export { balanceLearning, type BalancedLearning } from './balance-learning.ts';
export { balancingSchema, balancingWays, type Balancing, type BalancingWay } from './choice.ts';
export { corrected, shiftOf, type Correction } from './correction.ts';
