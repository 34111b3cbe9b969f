import * as z from 'zod';
import type { Neighbours } from '@rook-scale/core/families';
import type { Model, ModelPredictor } from '@rook-scale/core/model';
import type { PatientValues, Unfamiliar, WhatIf } from '@rook-scale/core/screening';
import { route } from './route.ts';

/** What a candidate asks of a patient: `GET /api/candidates/…/sheet`. */
export interface PatientSheet {
  /** When the fit that asks it ended. */
  fittedAt: string;
  outcome: Model['outcome'];
  predictors: ModelPredictor[];
  /** Columns that derived predictors are worked out from. */
  sources: ModelPredictor[];
  /** Medians and most common levels of the development patients. */
  usual: PatientValues;
}

/** What is known of one patient: `POST /api/candidates/…/patient`. */
export const patientBody = z.object({
  values: z.record(
    z.string().max(200),
    z.union([z.number(), z.string().max(10_000), z.null()]),
    'Give each value as a number, a level, or null where it is not known.',
  ),
});

/** What the candidate says of the patient. */
export interface PatientAnswer {
  /** How much the patient is taken for a case; absent where something is not known without which nobody is scored. */
  score?: number;
  /** Names, in the analyst's words, of what must be known and is not. */
  lacking: string[];
  /** Several levels: the share of each. */
  shares?: { level: string; share: number }[];
  /** A number: its 95% prediction interval. */
  interval?: [number, number];
  /** The development patients by whom it is judged, where the family judges so. */
  neighbours?: Neighbours;
  /** What the score would be if one value were different. */
  changes: WhatIf[];
  /** Values that hardly any development patient had. */
  unfamiliar: { name: string; label: string; what: Unfamiliar }[];
}

const one = '/api/candidates/[candidate]';

export const patientRoutes = {
  sheet: route<PatientSheet>()('GET', `${one}/sheet`),
  ask: route<PatientAnswer>()('POST', `${one}/patient`, { body: patientBody }),
};
