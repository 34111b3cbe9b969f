/** How far predicted numbers are from those observed, in the outcome's unit. */
export interface NumberErrors {
  patients: number;
  /** Square root of the mean squared error. */
  rootMeanSquare: number;
  meanAbsolute: number;
  /** 1 - sum of squared errors / sum of squares about the mean; absent where nothing varies. */
  rSquared?: number;
  /** Mean of predicted less observed. */
  bias: number;
}

/** Over patients whose outcome is known; undefined without any. */
export function numberErrors(
  observed: ArrayLike<number>,
  predicted: ArrayLike<number>,
): NumberErrors | undefined {
  let patients = 0;
  let sum = 0;
  let squares = 0;
  let absolute = 0;
  let bias = 0;
  for (let i = 0; i < observed.length; i++) {
    if (Number.isNaN(observed[i]) || Number.isNaN(predicted[i])) continue;
    const error = predicted[i] - observed[i];
    patients++;
    sum += observed[i];
    squares += error * error;
    absolute += Math.abs(error);
    bias += error;
  }
  if (patients === 0) return undefined;
  const mean = sum / patients;
  let about = 0;
  for (let i = 0; i < observed.length; i++)
    if (!Number.isNaN(observed[i]) && !Number.isNaN(predicted[i]))
      about += (observed[i] - mean) ** 2;
  return {
    patients,
    rootMeanSquare: Math.sqrt(squares / patients),
    meanAbsolute: absolute / patients,
    ...(about > 0 && { rSquared: 1 - squares / about }),
    bias: bias / patients,
  };
}
