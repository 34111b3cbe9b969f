import type * as z from 'zod';
import type { Patients } from '../patients.ts';
import { byChance } from './by-chance.ts';

/** Every way to set patients aside. */
const splits = { 'by chance': byChance };

type Splits = typeof splits;
export type SplitChoice = { [Way in keyof Splits]: z.infer<Splits[Way]['choice']> }[keyof Splits];

/** Sets patients aside as chosen; see `Split.allocate`. Throws where there is no such choice. */
export function allocateHeldOut(
  patients: Patients,
  strata: ArrayLike<number>,
  choice: SplitChoice,
  seed: number,
): Uint8Array {
  const split = splits[choice.way];
  return split.allocate(patients, strata, split.choice.parse(choice), seed);
}

export { side } from './split.ts';
