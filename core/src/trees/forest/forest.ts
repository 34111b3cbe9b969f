import type { BinnedCodes } from '../binned.ts';
import { EnsembleBuilder, type Ensemble } from '../ensemble.ts';
import type { Target } from '../target.ts';
import { compiledGrower } from './compiled.ts';
import { drawsFrom, wordsFrom } from './draws.ts';
import { PlainGrower, type ForestRules, type Leaf } from './grow.ts';
import { drawSample, poolOf, type Sampling } from './sample.ts';

export interface ForestTask {
  binned: BinnedCodes;
  /** Its weights are those of the patients; all 1 where absent. */
  target: Target;
  sampling: Sampling;
  /** Patients, and inputs, in orders that do not depend on those of the table. */
  order: Int32Array;
  columnOrder: Int32Array;
  leaf: Leaf;
  seed: number;
  progress?: (share: number) => void;
}

export interface Forest {
  ensemble: Ensemble;
  /** What each input gained in all splits of all trees. */
  gains: Float64Array;
}

/** A random forest (Breiman 2001, Machine Learning 45:5-32). */
export function growForest(task: ForestTask, rules: ForestRules, trees: number): Forest {
  const { binned, target, sampling, order, columnOrder, seed, progress } = task;
  const weights = new Float64Array(order.length);
  const own = { ...target, weights };
  const grower =
    compiledGrower(binned, own, rules, columnOrder, task.leaf) ??
    new PlainGrower(binned, own, rules, columnOrder, task.leaf);
  const pool = poolOf(order, sampling);
  const builder = new EnsembleBuilder();
  for (let tree = 0; tree < trees; tree++) {
    drawSample(pool, sampling, drawsFrom(wordsFrom(seed, 2 * tree)), weights);
    const given = target.weights;
    if (given) for (let row = 0; row < weights.length; row++) weights[row] *= given[row];
    grower.grow(builder, wordsFrom(seed, 2 * tree + 1));
    progress?.((tree + 1) / trees);
  }
  return { ensemble: builder.made(), gains: grower.gains.slice() };
}

/** How often each patient was in the sample of a tree, drawn once more. */
export function samplesOf({
  sampling,
  order,
  seed,
}: Pick<ForestTask, 'sampling' | 'order' | 'seed'>): (tree: number, times: Float64Array) => void {
  const pool = poolOf(order, sampling);
  return (tree, times) => drawSample(pool, sampling, drawsFrom(wordsFrom(seed, 2 * tree)), times);
}
