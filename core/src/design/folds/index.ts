import type * as z from 'zod';
import type { Patients } from '../patients.ts';
import { byChance } from './by-chance.ts';

/** Every way to deal patients into folds. */
const ways = { 'by chance': byChance };

type Ways = typeof ways;
export type FoldsChoice = { [Way in keyof Ways]: z.infer<Ways[Way]['choice']> }[keyof Ways];

/** Deals patients into folds as chosen; see `Folds.allocate`. Throws where there is no such choice. */
export function allocateFolds(
  patients: Patients,
  strata: ArrayLike<number>,
  rows: Int32Array,
  choice: FoldsChoice,
  seed: number,
): Uint8Array {
  const way = ways[choice.way];
  return way.allocate(patients, strata, rows, way.choice.parse(choice), seed);
}
