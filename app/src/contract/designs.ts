import * as z from 'zod';
import {
  designSchema,
  mostFolds,
  type Balance,
  type Design,
  type DivisionCounts,
  type Spread,
} from '@rook-scale/core/design';
import type { FittedPreparation, StepTrace } from '@rook-scale/core/preparation';
import { route } from './route.ts';

/** The design in force, with what carrying it out gave. */
export interface DesignState {
  id: string;
  choices: Design;
  fitKey: string;
  divisionId: string | null;
  /** Fingerprint of the patients that it is carried out on. */
  patients: string | null;
  counts: DivisionCounts | null;
  /** What is still to be chosen. */
  questions: string[];
  /** Why it cannot be carried out on these patients. */
  obstacle: string | null;
}

/** A design that was kept under a name. */
export interface DesignVersion {
  id: string;
  name: string;
  choices: Design;
  at: string;
}

/** What the division in force looks like. */
export interface SidesView {
  balance: Balance[];
  spread: Spread;
  /** The column of dates or numbers that the spread goes along; null for rows of the file. */
  along: string | null;
  /**
   * Where each patient's errors cost their own: what calling nobody and calling everybody in would
   * cost per 1,000 patients for development.
   */
  withoutModel: { nobody: number; everybody: number } | null;
}

/** What one step does to one column and one patient. */
export interface StepShown extends StepTrace {
  /** The patient by identifier, or by the row. */
  who: string;
  /** How many development patients there are to choose from. */
  patients: number;
}

/** A file that said who stands where, kept with the study. */
export interface AllocationBroughtIn {
  id: string;
  /** The name of the file. */
  name: string;
  patients: number;
  /** Whether it says the fold of every development patient. */
  folds: boolean;
}

const path = '/api/studies/[study]/design';

/** The fold, from 1, whose patients are not learned from; 0 for all development patients. */
const without = z.coerce.number().int().min(0).max(mostFolds).default(0);

export const designRoutes = {
  /** The design in force; null while there are no patients. */
  inForce: route<DesignState | null>()('GET', path),
  /** Changes it from what a page started from to what it wants. */
  change: route<DesignState>()('PUT', path, {
    body: z.object({ base: designSchema, mine: designSchema, insist: z.boolean().optional() }),
  }),
  /** What the development patients teach the preparation; null while the design is open. */
  preparation: route<FittedPreparation | null>()('GET', '/api/studies/[study]/preparation', {
    query: z.object({ without }),
  }),
  /** What one of its steps does to a column and to a development patient. */
  step: route<StepShown>()('GET', '/api/studies/[study]/preparation/step', {
    query: z.object({
      place: z.coerce.number().int().min(0).max(100),
      column: z.string().max(200),
      /** Which of the development patients, from 0. */
      patient: z.coerce.number().int().min(0).default(0),
      without,
    }),
  }),
  /** Who is on which side and how alike the sides are; null while the design is open. */
  sides: route<SidesView | null>()('GET', '/api/studies/[study]/sides'),
  /** Keeps who stands where, out of a file that was sent. */
  bringInAllocation: route<AllocationBroughtIn>()('POST', '/api/studies/[study]/allocation', {
    body: z.object({ uploadId: z.uuid() }),
  }),
  /** Holds out the patients of a second file. */
  bringInSecondFile: route()('POST', '/api/studies/[study]/second-file', {
    body: z.object({
      uploadId: z.uuid(),
      /** Which of its columns stands for a column of the cohort. */
      columns: z.record(z.string(), z.string()),
    }),
  }),
  /** Designs that are kept under names, the latest first. */
  versions: route<DesignVersion[]>()('GET', '/api/studies/[study]/versions'),
  keepVersion: route()('POST', '/api/studies/[study]/versions', {
    body: z.object({
      name: z.string().trim().min(1, 'Give the version a name.').max(60),
      choices: designSchema,
    }),
  }),
  forgetVersion: route()('DELETE', '/api/studies/[study]/versions', {
    body: z.object({ id: z.uuid() }),
  }),
  takeOutSecondFile: route()('DELETE', '/api/studies/[study]/second-file'),
};
