import * as z from 'zod';
import type { Compared, Curves, Differing, DifferingPatient } from '@rook-scale/core/comparing';
import { basisSchema, type Basis } from '@rook-scale/core/design';
import {
  mostParts,
  type Facet,
  type FitWarning,
  type LossCurve,
  type ModelSize,
  type RatioTest,
  type Settings,
} from '@rook-scale/core/families';
import { cutoffRuleSchema, type CrossValidated, type CutoffRule } from '@rook-scale/core/measures';
import type { CaseRule, OutcomeHeader } from '@rook-scale/core/outcome';
import type { InputMeaning } from '@rook-scale/core/preparation';
import type { Model } from '@rook-scale/core/model';
import { erasure } from './deleted.ts';
import { route } from './route.ts';
import type { ChosenFrom } from './searches.ts';

/** What a part of a blend is, or what is recalibrated: a candidate as it was when this was made. */
export interface BlendPart {
  /** The candidate that it was, which may be gone. */
  candidate: string;
  name: string;
  family: string;
  settings: Settings;
  basis: Basis;
}

/** A candidate as one line of the table. */
export interface CandidateLine {
  id: string;
  number: number;
  name: string;
  /** What the analyst wrote about it. */
  note: string;
  /** The name of the group that it stands in; empty where in none. */
  group: string;
  family: string;
  settings: Settings;
  /** Kept predictors and preparation that it is fitted on; those in force where none is named. */
  basis: Basis;
  /** Of a blend, and of one that is recalibrated. */
  parts?: BlendPart[];
  /** How it was chosen from a search, with that as long as it is kept. */
  chosen?: ChosenFrom & { searchId?: string };
  state: 'waiting' | 'fitting' | 'fitted' | 'failed' | 'cancelled';
  partsDone: number;
  partsTotal: number;
  /** How much of the parts at work is done, in parts. */
  partsBegun: number;
  /** How the loss has fallen until now, while it is fitted; absent where its family does not tell. */
  learning?: LossCurve;
  /** Milliseconds since its fit began. */
  elapsed: number | null;
  problem: string | null;
  /** Columns of the design that it uses; none where it looks at none, or brings its own. */
  uses: string[];
  /** What it predicts; absent until it was fitted once. */
  outcome?: Model['outcome'];
  /** Fitted on another design than the one in force. */
  outOfDate: boolean;
  cutoffRule: CutoffRule;
  /** When its fit ended, ISO 8601. */
  fittedAt: string | null;
  /** Milliseconds that its last fit took on the worker, folds and all. */
  fitTime: number | null;
  /** How large its model is; absent until it was fitted once, and where that was before it was told. */
  size?: ModelSize;
  /** Milliseconds in which a thousand patients were scored after its fit. */
  scoreTime: number | null;
  /** AUC in the patients it was fitted on. */
  apparentArea: number | null;
  /** What is to be said of the fit. */
  warnings: FitWarning[];
  /** Its held-out results were looked at, in the fit it has now. */
  seen: boolean;
  /** Absent until it was fitted once. */
  results?: CrossValidated;
}

/** A candidate at one time: its fit, its cutoff and what that rests on. Whatever was made with it keeps a copy. */
export interface CandidateVersion {
  /** 1, 2, 3 … within its candidate. */
  number: number;
  /** What the candidate was called. */
  name: string;
  /** When its fit ended, ISO 8601. */
  fittedAt: string;
  /** First digits of the fingerprint of the design that it was fitted on. */
  design: string;
  rule: CutoffRule;
  cutoff: number;
  /** What errors cost, by level where it differs, and the columns that say it of each patient. */
  costs: {
    missed: number;
    falseAlarm: number;
    unit: string;
    levels?: number[][];
    own?: { missed: string; falseAlarm: string };
  };
  cases: CaseRule;
}

/** A candidate opened: what its family can say of itself. */
export interface CandidateDetail {
  id: string;
  warnings: FitWarning[];
  facets: Facet[];
  inputs: InputMeaning[];
  preparation: Model['preparation'];
  /** Rows it was fitted on, and of how many patients or groups, where some have several. */
  dependent?: { rows: number; clusters: number };
  /** Fits of the same family on the same patients that differ in inputs alone. */
  nested: NestedFit[];
  labels: Record<string, { label: string; unit: string; kind: string }>;
}

/** Another fit of the same family on the same patients, with fewer inputs or more, and what tells them apart. */
export interface NestedFit extends RatioTest {
  id: string;
  name: string;
  /** The other fit has inputs that this one lacks. */
  larger: boolean;
}

/** Patients whom only one of two candidates calls in, with what they are called. */
export interface DifferingShown extends Differing {
  /** The cohort that rows are of. */
  cohort: string;
  patients: (DifferingPatient & { name: string })[];
}

/** Predictions and outcomes of patients, packed for the browser. */
export interface Predictions {
  /** What a case is. */
  cases: CaseRule;
  /** How often each patient was predicted: what follows is of each time in turn. */
  times: number;
  /** How much each patient is taken for a case: base64 of little-endian Float64. */
  risks: string;
  /** Whether each is one: base64 of one byte a patient. */
  events: string;
  /** What errors cost each patient, where they have costs of their own: base64 of Float64. */
  costs?: { missed: string; falseAlarm: string };
  /** Where several rows are of one patient or group, the cluster of each: base64 of Int32. */
  clusters?: string;
  /** Besides, for kinds where a score does not say all: everything predicted, and what happened. */
  whole?: { header: OutcomeHeader; values: string; outcome: string };
}

const ofStudy = '/api/studies/[study]/candidates';
const one = '/api/candidates/[candidate]';

export const candidateRoutes = {
  list: route<CandidateLine[]>()('GET', ofStudy),
  add: route<{ id: string }>()('POST', ofStudy, {
    body: z.object({
      family: z.string().max(60),
      settings: z.record(
        z.string(),
        z.union([z.number(), z.string(), z.boolean(), z.array(z.string().max(500)).max(1000)]),
      ),
      basis: basisSchema.optional(),
    }),
  }),
  /** Several candidates as one. */
  blend: route<{ id: string }>()('POST', `${ofStudy}/blends`, {
    body: z.object({
      candidates: z
        .array(z.uuid())
        .min(2, 'Choose at least two candidates.')
        .max(mostParts, `A blend has at most ${mostParts} parts.`),
      weights: z.enum(['learned', 'equal']),
    }),
  }),
  /** A candidate with its risks moved to where they come true. */
  recalibrate: route<{ id: string }>()('POST', `${ofStudy}/recalibrated`, {
    body: z.object({
      candidate: z.uuid(),
      how: z.enum(['intercept', 'line', 'isotonic']),
    }),
  }),
  /** One of each of these families, with the settings that it begins with. */
  addSeveral: route<{ ids: string[] }>()('POST', `${ofStudy}/several`, {
    body: z.object({
      families: z.array(z.string().max(60)).min(1, 'Choose at least one family.').max(100),
      basis: basisSchema.optional(),
    }),
  }),
  /** Fits again, on the design in force. */
  refit: route()('PUT', ofStudy, {
    body: z.object({ candidates: z.array(z.uuid()).min(1).max(1000) }),
  }),
  detail: route<CandidateDetail>()('GET', one),
  /** Gives it a name, or with an empty one that of its family again, a note and a group; what is absent stays. */
  describe: route()('PATCH', one, {
    body: z
      .object({
        name: z.string().trim().max(80, 'A name has at most 80 characters.').optional(),
        note: z.string().trim().max(2000, 'A note has at most 2,000 characters.').optional(),
        group: z.string().trim().max(60, 'A group has at most 60 characters.').optional(),
      })
      .refine(
        (words) => Object.values(words).some((one) => one !== undefined),
        'Give a name, a note or a group.',
      ),
  }),
  remove: route()('DELETE', one),
  restore: route()('POST', `${one}/restore`),
  erase: route()('POST', `${one}/erase`, { body: erasure }),
  cancel: route()('POST', `${one}/cancel`),
  /** Puts its fit, which waits, before all others. */
  fitNext: route()('POST', `${one}/next`),
  /** Sets the rule that puts its cutoff. */
  setCutoff: route()('PUT', `${one}/cutoff`, { body: cutoffRuleSchema }),
  /** The candidate less another, on the same patients out of fold. */
  compare: route<Compared>()('GET', `${one}/comparison`, { query: z.object({ with: z.uuid() }) }),
  /** Whom only it or only another calls in. */
  differing: route<DifferingShown>()('GET', `${one}/differing`, {
    query: z.object({ with: z.uuid() }),
  }),
  /** What it is drawn by beside others, out of fold. */
  curves: route<Curves>()('GET', `${one}/curves`),
  /** Out-of-fold predictions of the development patients. */
  predictions: route<Predictions>()('GET', `${one}/predictions`),
};
