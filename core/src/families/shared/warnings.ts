import type { FitWarning } from '../family.ts';

/** @param therefore what every patient gets then */
export const noInputs = (therefore: string): FitWarning => ({
  code: 'no inputs',
  sentence: `No predictor varies among these patients: ${therefore}.`,
});

export const leftOut = (names: string[]): FitWarning => ({
  code: 'left out',
  sentence: `Left out because ${names.length === 1 ? 'it repeats' : 'they repeat'} other inputs: ${names.join(', ')}.`,
});

export const notConverged = (iterations: number): FitWarning => ({
  code: 'not converged',
  sentence: `The fit had not settled after ${iterations} steps: allow more iterations.`,
});

export const oneOutcome: FitWarning = {
  code: 'one outcome',
  sentence: 'All training patients have the same outcome: every patient gets it as the prediction.',
};
