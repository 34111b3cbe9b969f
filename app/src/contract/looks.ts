import * as z from 'zod';
import type { Predictions } from './candidates.ts';
import { route } from './route.ts';

export interface Look {
  at: string;
  candidate: string;
}

/** One opening of held-out results; `counted` where it was a look, not a second reading of one. */
export interface Opening extends Look {
  counted: boolean;
}

/** What the held-out patients say of a candidate. Only a counted look gives it. */
export interface HeldOutView {
  candidateId: string;
  candidateName: string;
  cutoff: number;
  /** When the fit that was looked at ended, ISO 8601. */
  fittedAt: string | null;
  predictions: Predictions;
  /** Every look at these held-out patients. */
  looks: Look[];
  /** Every opening of them, the last first; at most a hundred. */
  openings: Opening[];
}

const path = '/api/studies/[study]/looks';

export const lookRoutes = {
  list: route<Look[]>()('GET', path),
  /** Held-out results are given in answer to a counted look, and in no other way. */
  take: route<HeldOutView>()('POST', path, { body: z.object({ candidate: z.uuid() }) }),
};
