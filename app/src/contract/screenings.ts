import * as z from 'zod';
import type { FitWarning } from '@rook-scale/core/families';
import type { Model } from '@rook-scale/core/model';
import {
  callRuleSchema,
  matchingSchema,
  type AlignedPredictor,
  type CallRule,
  type Calls,
  type Match,
  type Suggestion,
} from '@rook-scale/core/screening';
import type { CandidateVersion, Predictions } from './candidates.ts';
import { route } from './route.ts';

/** Patients of the study who stand in a list, and how they were found. */
export interface StudyPatients {
  by: 'identifier' | 'values' | 'identifier and values';
  development: number;
  heldOut: number;
  sealed: number;
}

/** How a cohort fits the model, before or after it is scored. */
export interface CohortCheck {
  rowCount: number;
  predictors: AlignedPredictor[];
  extraColumns: string[];
  /** How columns of the list stand for predictors under another name, unit or levels. */
  matching: Match[];
  /** Patients of whom a value is one that hardly any development patient had. */
  unfamiliarPatients: number;
  /** Patients of the study among them; absent where there is none. */
  studyPatients?: StudyPatients;
}

/** What is said before anyone is scored. */
export interface CheckBeforeScoring extends CohortCheck {
  suggestions: Suggestion[];
  /** Predictors without which nobody may be scored, and the patients who lack one. */
  needed: { absent: string[]; patients: number };
  warnings: FitWarning[];
}

/** A scored cohort, without its rows. */
export interface ScreeningView extends CohortCheck {
  id: string;
  studyId: string;
  cohort: { id: string; name: string; fileName: string };
  candidateId: string;
  candidateName: string;
  family: string;
  /** The version of the candidate that scored it, as it was then. */
  version: CandidateVersion;
  /** The version that the candidate is at, where only its cutoff or its costs are others by now. */
  now?: CandidateVersion;
  /** Who of this list is called in, and by which choice. */
  calls: Calls & { rule: CallRule };
  /** Rows in which the outcome is known, when there are any: their risks and outcomes. */
  known: { patients: number; predictions: Predictions } | null;
  /**
   * Patients whose outcome is known and stays closed: held-out ones until a look at this fit, sealed ones unless they
   * were opened with it.
   */
  closed: { heldOut: number; sealed: number };
  /** The held-out patients of the same fit, once they have been looked at; null before. */
  heldOut: Predictions | null;
  /** What is predicted, and what a case is. */
  outcome: Model['outcome'];
  /** Several levels: what giving a wrong one costs, where errors cost differently. */
  levelCosts?: number[][];
  /** How much every row is taken for a case: base64 of Float64. */
  risks: string;
  /** What has changed since this cohort was scored: its own values, the candidate's fit, how columns are matched, or the candidate's cutoff. */
  outOfDate: 'list' | 'fit' | 'cases' | 'matching' | 'version' | null;
  /** What is to be said of the fit that gave these risks. */
  warnings: FitWarning[];
  /**
   * Predictors of which the value of every scored patient is one that hardly any development patient had: pages say
   * it once, not beside each patient.
   */
  unfamiliarForAll: string[];
  /** Patients who lack a predictor that must be known; they have no risk. */
  unscored: number;
  /** Patients more unusual, all predictors together, than `from`, which one development patient in a hundred exceeds. */
  unusual?: { patients: number; from: number };
  createdAt: string;
}

/** What speaks most for and against each of some patients of a list. */
export interface ListReasonsView {
  /** Worked out exactly, or drawn by chance. */
  isDrawn: boolean;
  /** In the order of the list, of each the strongest first; none of who is not scored. */
  patients: { name: string; value: number; isImputed?: true }[][];
  /** Whether the strongest and their order are certain, where contributions were sampled. */
  certain?: boolean[];
}

/** One line of the call-in list. */
export interface ScreenedRow {
  rank: number;
  /** Place in the file, from 0. */
  row: number;
  /** How much the patient is taken for a case; null where a predictor that must be known is not. */
  risk: number | null;
  /** Several levels: the share of each, in the model's order. */
  shares?: number[];
  /** A number: its 95% prediction interval. */
  interval?: [number, number];
  /** Predictors whose value hardly any development patient had. */
  unfamiliar: string[];
  /** How unlike the development patients, 0 to 1. */
  unusual?: number;
  /** As in the cohort's dictionary; the identifier first if there is one. */
  cells: string[];
}

const ofStudy = '/api/studies/[study]/screenings';
const one = '/api/screenings/[screening]';
const someRows = z.object({
  from: z.coerce.number().int().min(0),
  count: z.coerce.number().int().min(1).max(500),
});
const pair = z.object({ cohort: z.uuid(), candidate: z.uuid() });

export type ListFileState = 'waiting' | 'running' | 'done' | 'failed';

/** The file of a long list, as far as it is written. */
export interface ListFile {
  id: string;
  cutoff: number;
  reasons: boolean;
  state: ListFileState;
  patients: number;
  patientsDone: number;
  /** Milliseconds since a worker began to write it. */
  elapsed: number | null;
  problem: string | null;
}

const oneFile = `${one}/files/[file]` as const;

export const screeningRoutes = {
  list: route<{ id: string; cohortId: string; candidateId: string }[]>()('GET', ofStudy),
  /** How a list meets a model, before anyone is scored. */
  check: route<CheckBeforeScoring>()('GET', `${ofStudy}/check`, { query: pair }),
  /**
   * `accept`: also where risks rest on what hardly any development patient had. `unchecked`: also with a fit that was
   * not checked on held-out patients, or is of an earlier design.
   */
  score: route<{ id: string }>()('POST', ofStudy, {
    body: pair.extend({ accept: z.boolean().optional(), unchecked: z.boolean().optional() }),
  }),
  /** Says which columns of a list stand for which predictors of a candidate's model. */
  match: route()('PUT', '/api/cohorts/[cohort]/matching', {
    body: z.object({ candidate: z.uuid(), matching: matchingSchema }),
  }),
  view: route<ScreeningView>()('GET', one),
  /** Chooses who of a list is called in. `scoredAt`: the scores that the choice was made on. */
  setCalls: route()('PUT', `${one}/calls`, {
    body: z.object({ calls: callRuleSchema, scoredAt: z.iso.datetime() }),
  }),
  /** The files of a long list, as it is scored now, the last first. */
  files: route<ListFile[]>()('GET', `${one}/files`),
  /** Asks for a file. An existing file, or one being written, is returned instead of a second. */
  askFile: route<{ id: string }>()('POST', `${one}/files`, {
    body: z.object({ cutoff: z.number().optional(), reasons: z.boolean() }),
  }),
  deleteFile: route()('DELETE', oneFile),
  rows: route<{ rows: ScreenedRow[] }>()('GET', `${one}/rows`, { query: someRows }),
  /** The strongest reasons for what is said of these lines. */
  reasons: route<ListReasonsView>()('GET', `${one}/reasons`, { query: someRows }),
};
