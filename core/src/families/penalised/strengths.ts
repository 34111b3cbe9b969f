import { startOf, type PathTask } from './path.ts';

/** Ends of a path of penalty strengths. */
export interface StrengthRange {
  strongest: number;
  weakest: number;
}

/** Below this mixing share, the penalty on squares sets the ends of the path. */
const leastMix = 0.01;
/**
 * A ridge leaves no input out. It starts where even the direction with the most variance keeps a hundredth
 * of its least-squares coefficient, and ends where that direction is shrunk by a millionth.
 */
const ridgeStrongest = 100;
const ridgeWeakest = (inputs: number, patients: number) => (inputs < patients ? 1e-6 : 1e-4);
/** As a share of the strongest of a lasso; with many inputs, everything is explained long before. */
const lassoWeakest = (inputs: number, patients: number) => (inputs < patients ? 1e-4 : 1e-2);

/**
 * Strengths between which a path runs: from the first at which an input enters (lasso and mixtures), or from
 * a multiple of the largest squared singular value of the standardised inputs (ridge). Undefined where no
 * input varies with the outcome.
 *
 * @example for one input of SD 1 with correlation 0.5 to an outcome of SD 1, a lasso starts at 0.5 and a ridge at 100
 */
export function strengthRange(task: PathTask): StrengthRange | undefined {
  const { mix, inputs } = task;
  const [patients, count] = [inputs.rowCount, inputs.columns.length];
  const { pull, largestCurvature } = startOf(task);
  if (!(pull > 0)) return undefined;
  if (mix >= leastMix)
    return { strongest: pull / mix, weakest: pull * lassoWeakest(count, patients) };
  const curvature = largestCurvature();
  return {
    strongest: ridgeStrongest * curvature,
    weakest: ridgeWeakest(count, patients) * curvature,
  };
}

/** From the strongest down to the weakest, by equal ratios. */
export function strengthsFrom(strongest: number, weakest: number, count = 100): number[] {
  return Array.from(
    { length: count },
    (_, i) => strongest * (weakest / strongest) ** (i / (count - 1)),
  );
}
