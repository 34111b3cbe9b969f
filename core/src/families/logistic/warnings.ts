import type { Inputs } from '../../preparation/index.ts';
import type { FitWarning } from '../family.ts';
import type { Maximum } from './maximise.ts';

/**
 * Where the outcome is separated the likelihood has no maximum (Albert & Anderson 1984,
 * Biometrika 71:1-10): the steps go on towards infinite coefficients and the information towards
 * singularity. On standardised inputs a standard error this large is never reached otherwise.
 */
const separatedStandardError = 200;

export function findWarnings(inputs: Inputs, maximum: Maximum): FitWarning[] {
  const warnings: FitWarning[] = [];
  if (inputs.columns.length === 0)
    warnings.push({
      code: 'no inputs',
      sentence: 'No predictor varies among these patients: every risk is the share of events.',
    });
  const separated =
    maximum.largestStandardError > separatedStandardError || maximum.certainShare === 1;
  if (separated)
    warnings.push({
      code: 'separation',
      sentence: `The predictors separate the outcome (completely or in part): no finite estimate exists, and the coefficients and their intervals say nothing. ${Math.round(100 * maximum.certainShare)}% of the patients are predicted with certainty. Look for a predictor recorded after the event.`,
    });
  else if (!maximum.converged)
    warnings.push({
      code: 'not converged',
      sentence: `The fit had not settled after ${maximum.summary.iterations} steps: allow more iterations.`,
    });
  const left = inputs.names.filter((_, j) => !maximum.kept[j + 1]);
  if (left.length > 0)
    warnings.push({
      code: 'left out',
      sentence: `Left out because ${left.length === 1 ? 'it repeats' : 'they repeat'} other inputs: ${left.join(', ')}.`,
    });
  return warnings;
}
