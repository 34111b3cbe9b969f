import type { Inputs } from '../../preparation/index.ts';
import type { FitWarning } from '../family.ts';
import { tellsAlone, type ToldAlone } from './tells-alone.ts';
import { leftOut, noInputs, notConverged } from './warnings.ts';

const named = 4;

/** What the analyst should know of a fit to several levels. @param codes level of each patient */
export function levelWarnings(
  inputs: Inputs,
  codes: ArrayLike<number>,
  levels: string[],
  fit: {
    kept: boolean[];
    converged: boolean;
    restless: boolean;
    iterations: number;
    /** Slopes of the direction that tells the outcome, one array or several, by input. */
    separation?: { patients: number; slopes: Float64Array[] };
  },
): FitWarning[] {
  const warnings: FitWarning[] = [];
  if (inputs.columns.length === 0)
    warnings.push(noInputs('everybody gets the share of each level'));
  if (fit.separation) warnings.push(separated(inputs, codes, levels, fit.separation));
  else if (!fit.converged || fit.restless) warnings.push(notConverged(fit.iterations));
  const without = inputs.names.filter((_, j) => !fit.kept[j]);
  if (without.length > 0) warnings.push(leftOut(without));
  return warnings;
}

function separated(
  inputs: Inputs,
  codes: ArrayLike<number>,
  levels: string[],
  { patients, slopes }: { patients: number; slopes: Float64Array[] },
): FitWarning {
  const alone = levels.flatMap((level, code) => {
    const members = Int8Array.from({ length: codes.length }, (_, i) => Number(codes[i] === code));
    if (!members.includes(1)) return [];
    return inputs.columns.flatMap((column, j) =>
      tellsAlone(inputs.names[j], column, members).map((told) => ({ level, told })),
    );
  });
  const none =
    'no finite coefficient fits them, and their shares of nearly 0 or 1 are no estimates';
  if (alone.length > 0) {
    const parts = alone.slice(0, named).map(({ level, told }) => describe(told, level));
    const text = parts.join('; ');
    return {
      code: 'separation',
      sentence: `${text.charAt(0).toUpperCase()}${text.slice(1)}: ${none}. Merge the level with another, leave the column out, or look whether it was recorded after the outcome.`,
      inputs: [...new Set(alone.map(({ told }) => told.name))],
    };
  }
  const weight = inputs.names.map((_, j) => Math.max(...slopes.map((one) => Math.abs(one[j]))));
  const most = Math.max(...weight);
  const together = [...weight.keys()]
    .filter((j) => weight[j] > 0.05 * most)
    .sort((a, b) => weight[b] - weight[a])
    .map((j) => inputs.names[j]);
  const list = `${together.slice(0, named).join(', ')}${together.length > named ? ` and ${together.length - named} more` : ''}`;
  return {
    code: 'separation',
    sentence: `${list} together tell levels apart for ${patients} ${patients === 1 ? 'patient' : 'patients'} without a single exception: ${none}. Use fewer predictors, or look for one recorded after the outcome.`,
    inputs: together,
  };
}

function describe({ name, where, event, patients }: ToldAlone, level: string): string {
  if (where === 'high' || where === 'low')
    return `${name} alone parts the patients with level ${level}, who have the ${where} values, from all others`;
  const who = where === 'one' ? name : `not ${name}`;
  if (patients === 1)
    return `the one patient with ${who} ${event ? 'has' : 'does not have'} level ${level}`;
  return `${event ? 'all' : 'none'} of the ${patients} patients with ${who} ${event ? 'have' : 'has'} level ${level}`;
}
