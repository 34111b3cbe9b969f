import * as z from 'zod';
import type { RegionsShown } from '@rook-scale/core/families';
import type {
  Direction,
  EffectShown,
  Explained,
  InRules,
  OnTheWhole,
  Pair,
  Similar,
  Worths,
} from '@rook-scale/core/reasons';
import type { Model } from '@rook-scale/core/model';
import { patientBody } from './patients.ts';
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

/** Why a candidate says what it says of one patient. */
export interface WhyView extends Pick<Explained, 'scale' | 'way' | 'compared'> {
  /** What it begins with: of `scale`. */
  base: number;
  /** What is said, as it is read. */
  said: number;
  contributions: { name: string; value: number; standardError?: number }[];
  /** The smallest changes that would turn the call; levels by name. */
  turns: { changes: { name: string; to: number | string }[]; said: number }[];
  /** Predictors that the design says nothing can change. */
  fixed: string[];
  cutoff: number;
  outcome: Model['outcome'];
  /** Of every predictor, in words; null where it is not known. */
  values: Record<string, string | null>;
  /** Development patients who are most like this one, what is known of them, and what happened to them. */
  similar: (Similar & { name: string; happened: string; values: Record<string, string | null> })[];
}

/** The same of a patient of the development cohort's file. */
export interface ReasonsView extends WhyView {
  row: number;
  name: string;
  /** Whose patient it is. */
  side: 'development' | 'held out' | 'sealed';
}

/** What is said over two predictors, or over the first two principal components. */
export interface OverTwoView {
  /** Absent where one of the two does not vary, or fewer than two numbers do. */
  map?: RegionsShown;
  directions?: Direction[];
}

/** How strongly predictors act together. */
export interface PairsView {
  pairs: Pair[];
  /** Patients by whom it is told. */
  patients: number;
}

/** A small tree that follows the candidate. */
export interface RulesView extends InRules {
  cutoff: number;
  outcome: Model['outcome'];
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
  /** Of a patient by hand. */
  why: route<WhyView>()('POST', `${one}/patient`, { body: patientBody }),
  /** Over two predictors; without them, over the first two principal components. */
  overTwo: route<OverTwoView>()('GET', `${one}/two`, {
    query: z.object({ across: z.string().optional(), up: z.string().optional() }),
  }),
  /** How much each predictor adds on the whole. */
  onTheWhole: route<OnTheWhole>()('GET', `${one}/whole`),
  pairs: route<PairsView>()('GET', `${one}/pairs`),
  rules: route<RulesView>()('GET', `${one}/rules`, {
    query: z.object({ leaves: z.coerce.number().int().min(2).max(32).default(8) }),
  }),
};
