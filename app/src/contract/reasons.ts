import * as z from 'zod';
import type { Contributions, EffectShown, Similar, Worths } from '@rook-scale/core/reasons';
import type { Model } from '@rook-scale/core/model';
import { route } from './route.ts';

/** What predictors are worth to a candidate, as far as it is worked out. */
export interface WorthView {
  /** Of the fit that it has now; `none` while nobody has asked. */
  state: 'none' | 'waiting' | 'there' | 'failed';
  done: number;
  total: number;
  /** Predictors that were moved together, besides each by itself. */
  together: string[][];
  problem?: string;
  /** Patients out of fold by whom it was told, and how often their values were dealt anew. */
  patients?: number;
  times?: number;
  worths?: Worths[];
}

export interface EffectView extends EffectShown {
  outcome: Model['outcome'];
  /** The candidate's cutoff, as its scores are read. */
  cutoff: number;
}

/** A patient of the development cohort's file, with the reasons for what is said of them. */
export interface ReasonsView extends Contributions {
  row: number;
  name: string;
  /** Whose patient it is. */
  side: 'development' | 'held out' | 'sealed';
  cutoff: number;
  outcome: Model['outcome'];
  /** Of every predictor, in words; null where it is not known. */
  values: Record<string, string | null>;
  /** Development patients who are most like this one, what is known of them, and what happened to them. */
  similar: (Similar & { name: string; happened: string; values: Record<string, string | null> })[];
  /** Patients with whom this one was compared. */
  compared: number;
}

const one = '/api/candidates/[candidate]/reasons';

export const reasonRoutes = {
  worth: route<WorthView>()('GET', `${one}/worth`),
  /** Asks for it; with other groups, anew. */
  askWorth: route()('POST', `${one}/worth`, {
    body: z.object({
      together: z
        .array(z.array(z.string().max(200)).min(2, 'Choose two predictors or more.').max(1000))
        .max(50, 'At most 50 groups are moved together.'),
    }),
  }),
  effect: route<EffectView>()('GET', `${one}/effect`, { query: z.object({ name: z.string() }) }),
  patient: route<ReasonsView>()('GET', `${one}/patient`, {
    query: z.object({ row: z.coerce.number().int().min(0) }),
  }),
};
