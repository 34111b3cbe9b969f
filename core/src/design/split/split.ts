import type * as z from 'zod';
import type { Table } from '../../table/index.ts';
import type { Allocation } from '../allocation.ts';
import type { Patients } from '../patients.ts';

/** Where a row of the development cohort stands. */
export const side = { development: 0, heldOut: 1, unused: 2, sealed: 3 } as const;

/** What patients are set aside from. */
export interface SplitContext {
  patients: Patients;
  /** Outcome group of each row, -1 where the outcome is not known: such rows are unused. */
  strata: ArrayLike<number>;
  /** Has the columns that the choice goes by. */
  table: Pick<Table, 'rowCount' | 'dictionary' | 'columns'>;
  seed: number;
  /** Of the patients, to hold out, and besides to seal: both from 0 to less than 1. */
  share: number;
  sealedShare: number;
  /** Row of the file that each row stands in, counted from 1. */
  fileRows?: ArrayLike<number>;
  /** Who stands where as a file said. */
  broughtIn?: Allocation;
}

/** A way to set patients aside. */
export interface Split<Choice> {
  /** In plain words. */
  name: string;
  about: string;
  choice: z.ZodType<Choice>;
  /** Whether it takes shares, or says itself how many are held out. */
  byShare(choice: Choice): boolean;
  /** The columns it goes by. */
  columns(choice: Choice): string[];
  /**
   * Who is held out. It depends on choice, shares, seed and who the patients are, and on the order of
   * rows only where it goes by rows; all rows of a patient go to the same side. Throws a DesignError.
   *
   * @returns one entry of `side` a row
   */
  allocate(context: SplitContext, choice: Choice): Uint8Array;
}
