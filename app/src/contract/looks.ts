import * as z from 'zod';
import type { Compared, Curves, Wrong, WrongPatient } from '@rook-scale/core/comparing';
import type { Model } from '@rook-scale/core/model';
import type { Predictions } from './candidates.ts';
import type { PackedColumn } from './surveys.ts';
import { route } from './route.ts';

export interface Look {
  at: string;
  candidate: string;
  /** How the patients who were shown stand to the split in force; absent where it is not known who they were. */
  standing?: { isOfThisSplit: boolean; heldOut: number; development: number };
}

/** One opening of held-out results; `counted` where it was a look, not a second reading of one. */
export interface Opening extends Omit<Look, 'standing'> {
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
  /** What the reference candidate says of everybody, where that is a number or shares of levels. */
  reference: number[] | null;
  /** Every look at these held-out patients. */
  looks: Look[];
  /** Every opening of them, the last first; at most a hundred. */
  openings: Opening[];
}

/** Several candidates on the same held-out patients, as one counted look. */
export interface SeveralHeldOut {
  candidates: string[];
  /** Of each. */
  curves: Curves[];
  /** Of each but the first, less the first. */
  compared: Compared[];
  looks: Look[];
}

/** How many are looked at beside one another at most: more lines are not told apart. */
export const mostLookedAt = 8;

/** Characters that a reason has at least. */
export const leastReason = 10;

/** What the sealed patients said, when they were opened with one candidate. */
export interface SealedView {
  /** Absent once the candidate is gone. */
  candidateId: string | null;
  candidateName: string;
  /** Why they were opened; empty in openings from before it was asked. */
  reason: string;
  at: string;
  cutoff: number;
  predicted: Model['outcome'];
  predictions: Predictions;
  /** How these patients stand to the split in force; absent where it is not known who they were. */
  standing?: Look['standing'];
}

/** Held-out patients who are called wrongly, with what they are called. */
export interface WrongShown extends Wrong {
  /** The cohort that rows are of. */
  cohort: string;
  patients: (WrongPatient & { name: string; observed: string })[];
}

const path = '/api/studies/[study]/looks';
const candidate = z.uuid();
/** The fit that was looked at: another one is of other patients, perhaps. */
const fit = { candidate, fittedAt: z.iso.datetime() };

export const lookRoutes = {
  list: route<Look[]>()('GET', path),
  /** Held-out results are given in answer to a counted look, and in no other way. */
  take: route<HeldOutView>()('POST', path, { body: z.object({ candidate }) }),
  /** Several beside one another: counted as one look. */
  several: route<SeveralHeldOut>()('POST', `${path}/several`, {
    body: z.object({
      candidates: z
        .array(candidate)
        .min(2, 'Choose another candidate to look at beside it.')
        .max(mostLookedAt, `At most ${mostLookedAt} candidates are looked at together.`)
        .refine((ids) => new Set(ids).size === ids.length, 'Each candidate once.'),
    }),
  }),
  /** A column of the held-out patients in the order of what was predicted of them, for whoever has looked at this fit. */
  column: route<PackedColumn>()('GET', `${path}/column`, {
    query: z.object({ ...fit, name: z.string() }),
  }),
  /** Who of them is called wrongly at a cutoff, for whoever has looked at this fit. */
  wrong: route<WrongShown>()('GET', `${path}/wrong`, {
    query: z.object({ ...fit, cutoff: z.coerce.number() }),
  }),
  /** The sealed patients as they were opened; null while they are sealed. */
  sealed: route<SealedView | null>()('GET', '/api/studies/[study]/sealed'),
  /** Opens them: once in a study, with this candidate, and for a reason. */
  openSealed: route<SealedView>()('POST', '/api/studies/[study]/sealed', {
    body: z.object({
      candidate,
      reason: z
        .string()
        .trim()
        .min(leastReason, 'Say in a few words why they are opened now.')
        .max(1000, 'Say it in at most 1,000 characters.'),
    }),
  }),
};
