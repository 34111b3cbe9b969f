import * as z from 'zod';
import type {
  AssociationMap,
  ColumnDescription,
  Finding,
  Gaps,
  Inflation,
  PatientMap,
  Relation,
  UnusualPatients,
} from '@rook-scale/core/survey';
import { route } from './route.ts';

/** The row of the look that lets held-out patients into the survey; absent for development patients only. */
const look = z.coerce.number().int().positive().optional();

/** What a page of the survey can ask for. Each is worked out by a worker and kept. */
export const surveyRequestSchema = z.discriminatedUnion('part', [
  /** What the program noticed. */
  z.object({ part: z.literal('findings') }),
  /** Every column on its own, and the gaps. */
  z.object({ part: z.literal('columns'), look }),
  /** Every column against one. */
  z.object({ part: z.literal('relations'), against: z.string().min(1), look }),
  /** Every column with every other. */
  z.object({ part: z.literal('associations'), ranked: z.enum(['yes', 'no']), look }),
  /** Patients placed by what sets them apart. */
  z.object({ part: z.literal('patients'), look }),
  /** Patients who are unlike the others. */
  z.object({ part: z.literal('unusual'), look }),
]);

export type SurveyRequest = z.infer<typeof surveyRequestSchema>;

/** What each part of the survey gives. */
export interface SurveyResults {
  findings: Finding[];
  columns: ColumnsSurveyed;
  relations: RelationsSurveyed;
  associations: AssociationsSurveyed;
  patients: PatientMap | null;
  unusual: UnusualPatients | null;
}

export interface ColumnsSurveyed {
  patients: number;
  /** In the order of the dictionary. */
  columns: ColumnDescription[];
  gaps: Gaps;
}

export interface RelationsSurveyed {
  /** What the column against which the others are set is. */
  shape: 'event' | 'levels' | 'number';
  /** Rows, and the patients or groups they are of: tests and intervals are then by cluster. */
  dependent?: { rows: number; clusters: number };
  relations: Relation[];
}

export interface AssociationsSurveyed {
  map: AssociationMap;
  inflation: Inflation[];
  /** Columns beyond the limit that are left out. */
  leftOut: number;
}

/** A part of the survey, and whether it is about what is in force now. */
export interface SurveyView<Part extends SurveyRequest['part'] = SurveyRequest['part']> {
  result: SurveyResults[Part] | null;
  current: boolean;
  /** Patients that the result is drawn from, while all of them are still being counted. */
  sampled: number | null;
  /** A sentence when it could not be worked out. */
  problem: string | null;
}

/** Columns of the patients at hand, packed for the browser: base64 of little-endian arrays. */
export interface PackedColumns {
  patients: number;
  /** Int32: row in the cohort of each patient; only when asked for. */
  rows?: string;
  columns: PackedColumn[];
}

export type PackedColumn = { name: string } & (
  | { type: 'number'; values: string }
  | { type: 'coded'; codes: string; levels: string[] }
  | { type: 'text'; values: (string | null)[] }
);

const path = '/api/studies/[study]/survey';

export const surveyRoutes = {
  /** A part of the survey as far as it is there. */
  view: route<SurveyView>()('GET', path, { query: surveyRequestSchema }),
  /** The same, and has it worked out where it is not there yet; asked for again it is one job. */
  ask: route<SurveyView>()('POST', path, { query: surveyRequestSchema }),
  /** Columns of the patients at hand, or which patients they are. */
  columns: route<PackedColumns>()('GET', `${path}/columns`, {
    query: z.object({
      name: z.string().optional(),
      rows: z.literal('yes').optional(),
      look,
    }),
  }),
  takeLook: route<{ look: number }>()('POST', `${path}/look`),
};
