import {
  designFor,
  DesignError,
  divisionKey,
  fitKey,
  type Basis,
  type Design,
} from '@rook-scale/core/design';
import { dependsOnCosts, familyOf, type Settings } from '@rook-scale/core/families';
import type { BlendPart } from '../../contract/candidates.ts';

/** A design with the patients that it is carried out on. */
export interface CarriedOut {
  choices: Design;
  fitKey: string;
  patients: string | null;
}

/** Whether a candidate would be fitted to the same numbers on the one design and on the other. */
export function sameFit(
  candidate: { family: string; settings: Settings; basis: Basis; parts?: BlendPart[] | null },
  one: CarriedOut,
  other: CarriedOut,
): boolean {
  // A blend is nothing beside its parts.
  if (candidate.parts) return candidate.parts.every((part) => sameFit(part, one, other));
  const { description } = familyOf(candidate.family);
  if (
    dependsOnCosts(description, candidate.settings) &&
    costKey(one.choices) !== costKey(other.choices)
  )
    return false;
  if (isPlain(candidate)) return one.fitKey === other.fitKey;
  return (
    one.patients !== null &&
    one.patients === other.patients &&
    keyFor(candidate, one.choices) === keyFor(candidate, other.choices)
  );
}

/** What errors cost in comparison with each other, which is all that a fit can depend on. */
const costKey = ({ kind, missedCost, falseAlarmCost, levelCosts }: Design): string =>
  JSON.stringify(kind === 'event' ? missedCost / falseAlarmCost : levelCosts);

/** Fitted on what the design has in force, all of it. */
function isPlain({ family, basis }: { family: string; basis: Basis }): boolean {
  const { blind, fixed } = familyOf(family).description;
  return !blind && !fixed && Object.keys(basis).length === 0;
}

function keyFor({ family, basis }: { family: string; basis: Basis }, choices: Design): string {
  const { blind, fixed } = familyOf(family).description;
  // What looks at no input, or brings its own, depends on patients and outcome alone.
  if (blind || fixed) return divisionKey(choices);
  try {
    return fitKey(designFor(choices, basis));
  } catch (error) {
    if (error instanceof DesignError) return error.message;
    throw error;
  }
}
