import { DesignError } from '../design-error.ts';
import type { Patients } from '../patients.ts';
import type { Units } from '../units.ts';
import { side, type SplitContext } from './split.ts';

/** The side of each row from that of its patient; rows without a known outcome are unused. */
export function sidesOfRows(
  { patients: { ofRow }, strata }: Pick<SplitContext, 'strata'> & { patients: Units },
  sideOf: Uint8Array,
): Uint8Array {
  const sides = new Uint8Array(ofRow.length);
  for (let row = 0; row < ofRow.length; row++)
    sides[row] = strata[row] < 0 ? side.unused : sideOf[ofRow[row]];
  return sides;
}

/**
 * Holds rows against one another that were put on sides one by one. Throws a DesignError where a
 * patient would stand on two.
 *
 * @param what puts them there, as the subject of a sentence
 */
export function refuseTornPatients(patients: Patients, sides: Uint8Array, what: string) {
  const torn = tornPatients(patients, sides);
  if (torn.length === 0) return;
  throw new DesignError(
    `${what} puts rows of ${torn.length === 1 ? 'one patient' : `${torn.length} patients`} on two sides (${firstOf(torn)}): what is learned from one row would be checked on another of the same patient.`,
  );
}

/** Some of the patients' keys, to be told by. */
export const firstOf = (keys: string[]) =>
  `${keys
    .slice(0, 3)
    .map((key) => key.replace(/^id:/, ''))
    .join(', ')}${keys.length > 3 ? ', …' : ''}`;

/** The keys of those who would stand on two sides. */
export function tornPatients({ keys, ofRow }: Patients, sides: Uint8Array): string[] {
  const sideOf = new Int8Array(keys.length).fill(-1);
  const torn = new Set<number>();
  for (let row = 0; row < sides.length; row++) {
    if (sides[row] === side.unused) continue;
    const patient = ofRow[row];
    if (sideOf[patient] < 0) sideOf[patient] = sides[row];
    else if (sideOf[patient] !== sides[row]) torn.add(patient);
  }
  return [...torn].map((patient) => keys[patient]);
}
