import type * as z from 'zod';
import type { Effect } from '../effects.ts';
import type { Backing } from '../support.ts';
import type { WorkingColumn } from '../working.ts';

/** What a step may look at besides the columns while it learns. */
export interface LearnContext {
  /** The outcome of the same patients, as the counting of support reads it. */
  backing: Backing;
}

/**
 * One step of a preparation: it learns on some patients' columns and does the same to anybody's.
 * What it has learned is plain JSON and holds columns and levels by name, so that it means the same
 * in a cohort with other columns and levels.
 */
export interface Step<Learned, Choice = undefined> {
  /** In plain words, for the list of steps. */
  name: string;
  about: string;
  /** What the analyst says; absent for the steps that end every preparation. */
  choice?: z.ZodType<Choice>;
  /** What is kept; read with a model of any age. */
  learned: z.ZodType<Learned>;
  learn(columns: WorkingColumn[], context: LearnContext, choice: Choice): Learned;
  /** The columns after the step. Nothing is learned here. */
  apply(learned: Learned, columns: WorkingColumn[]): WorkingColumn[];
  /**
   * Of patients who are learned from, 1 for those that stay; absent where all do. Whoever a model is
   * used on stays.
   */
  keeps?(learned: Learned, columns: WorkingColumn[]): Uint8Array;
  /** What it does to which column, in figures: all that screening and interface read of it. */
  effects(learned: Learned): Effect[];
}
