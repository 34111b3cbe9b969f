import type * as z from 'zod';
import type { Table } from '../../table/index.ts';
import type { Allocation } from '../allocation.ts';
import type { Patients } from '../patients.ts';

/** Folds over all repeats, each with a number of its own that a byte holds. */
export const mostFolds = 250;

/** What is dealt into folds. */
export interface FoldsContext {
  patients: Patients;
  /** Outcome group of each row of the table. */
  strata: ArrayLike<number>;
  /** Has the columns that the choice goes by. */
  table: Pick<Table, 'rowCount' | 'dictionary' | 'columns'>;
  /** The rows to deal, the development patients. */
  rows: Int32Array;
  seed: number;
  /** Who stands where as a file said. */
  broughtIn?: Allocation;
}

export interface Dealt {
  /**
   * A fold from 0 a row of `rows`; where they are dealt several times, those of each repeat behind
   * one another, and numbered on.
   */
  folds: Uint8Array;
  /** What each fold is called, where it has a name of its own. */
  names?: string[];
}

/** A way to deal development patients into folds. */
export interface Folds<Choice> {
  /** In plain words. */
  name: string;
  about: string;
  choice: z.ZodType<Choice>;
  /** The columns it goes by. */
  columns(choice: Choice): string[];
  /**
   * Who is in which fold. It depends on choice, seed and who the patients are, never on the order of
   * rows; all rows of a patient go to the same fold. Throws a DesignError.
   */
  allocate(context: FoldsContext, choice: Choice): Dealt;
}
