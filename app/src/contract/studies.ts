import * as z from 'zod';
import { erasure } from './deleted.ts';
import type { DesignState } from './designs.ts';
import { route } from './route.ts';

/** What the frame of every page shows: the spine's facts and the sentence. */
export interface Overview {
  study: { id: string; name: string };
  studies: { id: string; name: string }[];
  cohort: { name: string; rowCount: number; columnCount: number } | null;
  design: DesignState | null;
  outcome: OutcomeInWords | null;
  /** The candidate that is chosen for the study, and whether its fit of now was checked on held-out patients. */
  chosen: { id: string; name: string; seen: boolean; outOfDate: boolean } | null;
  candidates: { fitted: number; atWork: number; outOfDate: number; bestCost: number | null };
  /** Looks at the held-out patients of the split in force, since when, and looks at those of earlier splits. */
  looks: { count: number; first: string | null; earlier: number };
  screening: { cohorts: number; scored: number };
  history: History;
}

/** The outcome column of the design, as pages speak of it. */
export interface OutcomeInWords {
  label: string;
  unit: string;
  /** Of a coded column, in their order. */
  levels: string[];
  ordered: boolean;
  event: string;
  /** What the patients without the event are called: the other level if there is one only. */
  other: string;
}

/** An act, in a few words. */
export interface Step {
  id: number;
  what: string;
}

/** What the person who asks can undo and redo: the last of their own acts in the study. */
export interface History {
  undo: Step | null;
  redo: Step | null;
  /** Their last act, where it cannot be undone. */
  blocked: string | null;
}

/** One line of the history of a study. */
export interface Act extends Step {
  at: string;
  /** Who did it: this browser, another one, or the product by itself. */
  who: 'you' | 'other' | 'product';
  undoneAt: string | null;
  canBeUndone: boolean;
}

const named = z.object({
  name: z
    .string()
    .trim()
    .min(1, 'Give the study a name.')
    .max(120, 'Keep the name under 120 characters.'),
});
const one = '/api/studies/[study]';

export const studyRoutes = {
  make: route<{ id: string }>()('POST', '/api/studies', { body: named }),
  overview: route<Overview>()('GET', one),
  rename: route()('PATCH', one, { body: named }),
  remove: route()('DELETE', one),
  restore: route()('POST', `${one}/restore`),
  erase: route()('POST', `${one}/erase`, { body: erasure }),
  /** Says that it is open in a browser: it is the one that is shown first next time. */
  opened: route()('POST', `${one}/opened`),
  /** Chooses the candidate that the study goes on with, or none. */
  choose: route()('PUT', `${one}/chosen`, { body: z.object({ candidate: z.uuid().nullable() }) }),
  /**
   * Takes back the last act of the person who asks, or does it again; says which. `act`: the one that they were
   * shown; where the next one is another by now, nothing is done. `outOfTurn`: that act of theirs, whatever they did since.
   */
  step: route<{ what: string }>()('POST', `${one}/step`, {
    body: z.object({
      direction: z.enum(['undo', 'redo']),
      act: z.int().optional(),
      outOfTurn: z.boolean().optional(),
    }),
  }),
  /** What was done in the study, the latest first. */
  acts: route<Act[]>()('GET', `${one}/acts`),
};
