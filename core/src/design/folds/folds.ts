import type * as z from 'zod';
import type { Patients } from '../patients.ts';

/** A way to deal development patients into folds. */
export interface Folds<Choice> {
  /** In plain words. */
  name: string;
  choice: z.ZodType<Choice>;
  /**
   * Who is in which fold. It depends on choice, seed and who the patients are, never on the order of
   * rows; all rows of a patient go to the same fold.
   *
   * @param strata outcome group of each row of the table
   * @param rows the rows to deal, the development patients
   * @returns a fold from 0 a row of `rows`
   */
  allocate(
    patients: Patients,
    strata: ArrayLike<number>,
    rows: Int32Array,
    choice: Choice,
    seed: number,
  ): Uint8Array;
}
