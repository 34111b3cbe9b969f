import type { Inputs } from '../../preparation/index.ts';
import type { FitWarning } from '../family.ts';
import { leftOut, noInputs, notConverged, type ToldAlone } from '../shared/index.ts';
import type { Maximum } from './maximise.ts';
import { findSeparation, type Separation } from './separation.ts';

/** What the analyst should know of a fit. @param events 1 or 0 a patient */
export function findWarnings(
  inputs: Inputs,
  events: ArrayLike<number>,
  maximum: Maximum,
): FitWarning[] {
  const warnings: FitWarning[] = [];
  if (inputs.columns.length === 0) warnings.push(noInputs('every risk is the share of events'));
  const separation = findSeparation(inputs, events, maximum.separation);
  if (separation)
    warnings.push({
      code: 'separation',
      sentence: describeSeparation(separation),
      inputs:
        separation.alone.length > 0
          ? separation.alone.map(({ name }) => name)
          : separation.together,
    });
  else if (!maximum.converged || maximum.restless)
    warnings.push(notConverged(maximum.summary.iterations));
  const left = inputs.names.filter((_, j) => !maximum.kept[j + 1]);
  if (left.length > 0) warnings.push(leftOut(left));
  return warnings;
}

const named = 4;

function describeSeparation({ patients, events, alone, together }: Separation): string {
  const none = 'no finite coefficient fits them, and their risks of nearly 0 or 1 are no estimates';
  if (alone.length === 0) {
    const inputs = `${together.slice(0, named).join(', ')}${together.length > named ? ` and ${together.length - named} more` : ''}`;
    return `${inputs} together tell the outcome of ${count(patients)} (${events} with the event) without a single exception: ${none}. Use fewer predictors or bias-reduced coefficients, or look for one recorded after the event.`;
  }
  const parts = alone.slice(0, named).map(describeAlone);
  return `${capital(parts.join('; '))}: ${none}. Merge the level with another, leave the column out, take bias-reduced coefficients, or look whether it was recorded after the event.`;
}

function describeAlone({ name, where, event, patients }: ToldAlone): string {
  if (where === 'high' || where === 'low')
    return `${name} alone parts those with the event, who have the ${where} values, from all others`;
  const who = where === 'one' ? name : `not ${name}`;
  if (patients === 1)
    return `the one patient with ${who} ${event ? 'has' : 'does not have'} the event`;
  return `${event ? 'all' : 'none'} of the ${patients} patients with ${who} ${event ? 'have' : 'has'} the event`;
}

const count = (patients: number) => `${patients} ${patients === 1 ? 'patient' : 'patients'}`;
const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
