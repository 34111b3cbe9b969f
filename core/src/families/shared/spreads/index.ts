export { drawnNumbers, drawnOf } from './drawn.ts';
export { learnCounts, learnKernel, learnNormal, type Learners } from './learn.ts';
export { addLogs, type Spread } from './spread.ts';
