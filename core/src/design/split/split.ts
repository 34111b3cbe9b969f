import type * as z from 'zod';
import type { Patients } from '../patients.ts';

/** Where a row of the development cohort stands. */
export const side = { development: 0, heldOut: 1, unused: 2 } as const;

/** A way to set patients aside. */
export interface Split<Choice> {
  /** In plain words. */
  name: string;
  choice: z.ZodType<Choice>;
  /**
   * Who is held out. It depends on choice, seed and who the patients are, never on the order of
   * rows; all rows of a patient go to the same side.
   *
   * @param strata outcome group of each row, -1 where the outcome is not known: such rows are unused
   * @returns one entry of `side` a row
   */
  allocate(patients: Patients, strata: ArrayLike<number>, choice: Choice, seed: number): Uint8Array;
}
