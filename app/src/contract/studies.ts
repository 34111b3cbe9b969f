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
  candidates: { fitted: number; atWork: number; outOfDate: number; bestCost: number | null };
  looks: { count: number; first: string | null };
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

/** What can be undone and redone, in a few words each. */
export interface History {
  undo: string | null;
  redo: string | null;
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
  /** Goes one change of dictionary or design back, or forward again; says which. */
  step: route<{ what: string }>()('POST', `${one}/step`, {
    body: z.object({ direction: z.enum(['undo', 'redo']) }),
  }),
};
