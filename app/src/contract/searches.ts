import * as z from 'zod';
import { basisSchema, type Basis } from '@rook-scale/core/design';
import type { Settings } from '@rook-scale/core/families';
import {
  searchPlanSchema,
  type Corrected,
  type FewerWay,
  type Growth,
  type Nested,
  type SearchPlan,
} from '@rook-scale/core/search';
import { erasure } from './deleted.ts';
import { route } from './route.ts';

export type SearchState = 'waiting' | 'running' | 'done' | 'stopped' | 'failed';

/** How a candidate was chosen from a search. */
export interface ChosenFrom {
  how: 'best' | 'simplest' | 'by hand';
  /** Name of the search. */
  search: string;
  /** How many settings were compared, and by what. */
  among: number;
  measure: string;
  /** Where its predictors were selected: how, and what that came to with the choice made inside each fold. */
  fewer?: { way: FewerWay; inside?: { value: number; error?: number } };
}

/** The best of a search so far, by its own measure. */
export interface BestSoFar {
  settings: Settings;
  value: number;
  error?: number;
}

/** A search as one line of the table. */
export interface SearchLine {
  id: string;
  number: number;
  name: string;
  family: string;
  basis: Basis;
  plan: SearchPlan;
  state: SearchState;
  /** How many settings it tries, and how many have figures from the round it is in. */
  settings: number;
  judged: number;
  /** Rounds of a race, from 1; one where it is none. */
  round: number;
  rounds: number;
  /** Share of the patients in this round. */
  share: number;
  /** From 0 to 1. */
  progress: number;
  /** Milliseconds that it still takes, as far as can be told. */
  left: number | null;
  problem: string | null;
  best: BestSoFar | null;
  /** Tried on another design than the one in force. */
  outOfDate: boolean;
  /** Its figures are of other costs, or of other cases, than those in force. */
  otherCosts: boolean;
}

/** One of the settings tried. */
export interface TrialShown {
  number: number;
  /** Of the settings that differ in the search, in the order of `varied`. */
  values: Settings[string][];
  /** By the measure asked for, on the share of the patients of its last round. */
  value?: number;
  error?: number;
  /** In those it learned from. */
  development?: number;
  /** The round it was judged in, from 0; -1 before. */
  round: number;
  problem?: string;
}

/** How often each predictor was among those selected. */
export interface SelectedTimes {
  /** Parts in which predictors were ranked. */
  of: number;
  /** By predictor, for each that is compared. */
  times: number[][];
}

/** Which predictors a search has selected. */
export interface SelectionShown {
  /** Those it selects from. */
  predictors: string[];
  /** Of each that is compared, on all development patients; absent until they are ranked. */
  sets?: string[][];
  /** Why they cannot be ranked on all. */
  problem?: string;
  /** Absent where sets are the analyst's own. */
  folds?: SelectedTimes;
  halves?: SelectedTimes;
}

/** Whether the choice is checked by nested cross-validation, and how many fits that takes. */
export interface Nesting {
  asked: boolean;
  fits: number;
}

/** What that came to: the numbers of what was chosen in each fold, of so many. */
export interface NestedShown extends Nested {
  among: number;
}

/** A search opened. */
export interface SearchDetail {
  id: string;
  measure: string;
  /** Names of the settings that differ, in the family's order. */
  varied: string[];
  trials: TrialShown[];
  /** Numbers of the best, of the simplest that is as good, and of all within one standard error. */
  choice?: { best: number; simplest: number; asGood: number[] };
  /** Candidates made of its settings, by number. */
  chosen: { number: number; candidate: string; name: string }[];
  /** Where the choice can be made anew inside every fold. */
  nesting?: Nesting;
  /** Where it compares fewer predictors. */
  selection?: SelectionShown;
  /** Where it compares numbers of patients: what more would bring, once that can be told. */
  growth?: Growth;
}

/** About how long a search takes: one of its fits, and all of it on so many cores, in milliseconds. */
export interface HowLong {
  one: number;
  all: number;
  cores: number;
}

const asked = z.object({
  family: z.string().max(60),
  plan: searchPlanSchema,
  basis: basisSchema.optional(),
});

const ofStudy = '/api/studies/[study]/searches';
const one = '/api/searches/[search]';
const measure = z.object({ measure: z.string().max(60) });

export const searchRoutes = {
  list: route<SearchLine[]>()('GET', ofStudy),
  add: route<{ id: string }>()('POST', ofStudy, { body: asked }),
  /** Tries one of its fits, and keeps nothing. */
  howLong: route<HowLong>()('POST', `${ofStudy}/how-long`, { body: asked }),
  detail: route<SearchDetail>()('GET', one, { query: measure }),
  remove: route()('DELETE', one),
  restore: route()('POST', `${one}/restore`),
  erase: route()('POST', `${one}/erase`, { body: erasure }),
  /** Ends its work and keeps what there is. */
  stop: route()('POST', `${one}/stop`),
  /** Goes on where it was stopped, or begins anew where the design is another one now. */
  goOn: route()('POST', `${one}/go-on`),
  /** Judges what was fitted by the costs and cases in force. */
  judge: route()('POST', `${one}/judge`),
  /** Adds finer values around one of the settings. */
  closer: route<{ added: number }>()('POST', `${one}/closer`, {
    body: z.object({ trial: z.number().int().min(0) }),
  }),
  /** Makes a candidate of one of the settings. */
  choose: route<{ id: string }>()('POST', `${one}/choose`, {
    body: z.object({
      trial: z.number().int().min(0),
      how: z.enum(['best', 'simplest', 'by hand']),
      measure: z.string().max(60),
    }),
  }),
  /** Has the choice be made anew inside every fold. */
  nest: route()('POST', `${one}/nested`),
  /** What that comes to; null until it is fitted. */
  nested: route<NestedShown | null>()('GET', `${one}/nested`, { query: measure }),
  /** What the best comes to when it is not judged by the patients it was chosen by; null where that is not known. */
  corrected: route<Corrected | null>()('GET', `${one}/corrected`, { query: measure }),
};
