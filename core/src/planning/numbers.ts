import { chiSquareUpperTail, tQuantile } from '../numeric/index.ts';
import { accepted, smallest, type Criterion } from './criterion.ts';

export interface NumberPlan {
  /** Parameters that are estimated beside the intercept: model inputs. */
  parameters: number;
  /** What the model is expected to reach: adjusted R², 0 < r2 < 1. */
  r2: number;
  /** Of the outcome; without a mean above 0 its multiplicative error says nothing. */
  mean: number;
  sd: number;
}

/**
 * Patients needed to develop a model of a number: Riley et al. (2019), Statistics in Medicine 38:1262;
 * the same steps in Riley et al. (2020), BMJ 368:m441.
 */
export function enoughForNumbers(plan: NumberPlan, allow = accepted): Criterion[] {
  const { parameters, r2, mean } = plan;
  const least = parameters + 2;
  const forOptimism = 1 + (parameters * (1 - r2)) / allow.optimism;
  return [
    {
      id: 'shrinkage',
      patients: smallest(least, (n) => shrinkageOf(n, parameters, r2) >= allow.shrinkage),
    },
    { id: 'optimism', exact: forOptimism, patients: Math.ceil(forOptimism - 1e-9) },
    {
      id: 'residual SD',
      patients: smallest(least, (n) => errorOfSd(n - parameters - 1) <= allow.factor),
    },
    ...(mean > 0
      ? [
          {
            id: 'overall mean' as const,
            patients: smallest(least, (n) => errorOfMean(n, plan) <= allow.factor),
          },
        ]
      : []),
  ];
}

/** Expected uniform shrinkage of a fit on so many. */
function shrinkageOf(n: number, parameters: number, r2: number): number {
  const apparent = (r2 * (n - parameters - 1) + parameters) / (n - 1);
  return 1 + (parameters - 2) / (n * Math.log(1 - apparent));
}

/** How far the residual SD may be off, as a factor, within its 95% interval. */
function errorOfSd(freedom: number): number {
  const [low, high] = [0.975, 0.025].map((tail) => chiSquareQuantile(tail, freedom));
  return Math.sqrt(Math.max(high / freedom, freedom / low));
}

function errorOfMean(n: number, { parameters, r2, mean, sd }: NumberPlan): number {
  const width = tQuantile(0.025, n - parameters - 1) * Math.sqrt((sd ** 2 * (1 - r2)) / n);
  return (mean + width) / mean;
}

/** x with P(X > x) = tail, by bisection. */
function chiSquareQuantile(tail: number, freedom: number): number {
  let low = 0;
  let high = freedom + 1;
  while (chiSquareUpperTail(high, freedom) > tail) high *= 2;
  for (let i = 0; i < 80; i++) {
    const middle = (low + high) / 2;
    if (chiSquareUpperTail(middle, freedom) > tail) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
