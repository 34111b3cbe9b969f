import * as z from 'zod';
import type { Match } from '@rook-scale/core/screening';
import { selectionSchema, type Flow, type Selection } from '@rook-scale/core/selection';
import {
  dictionarySchema,
  type ColumnSummary,
  type Dictionary,
  type Kind,
} from '@rook-scale/core/table';
import { erasure } from './deleted.ts';
import { route } from './route.ts';

export type CohortPurpose = 'development' | 'screening';

/** A second file in a development cohort. */
export interface SecondFile {
  name: string;
  /** Its first row below those of the first file, counted from 1. */
  from: number;
  /** The first file by itself. */
  first: string;
}

/** What the interface knows of a cohort. */
export interface CohortInfo {
  id: string;
  studyId: string;
  purpose: CohortPurpose;
  name: string;
  /** Patients: the rows of the file that the selection leaves in. */
  rowCount: number;
  /** Rows of the file. */
  storedRows: number;
  selection: Selection;
  flow: Flow;
  version: number;
  dictionary: Dictionary;
  summaries: ColumnSummary[];
  /** Of a list: how its columns stand for predictors under another name, unit or levels. */
  matching: Match[];
  uploadId: string;
  second: SecondFile | null;
  file: { name: string; size: number; sha256: string };
  createdAt: string;
}

/** What a formula would give on a cohort, or why it cannot be understood. */
export type FormulaTried =
  | {
      understood: true;
      kind: Kind;
      /** Names of the columns it reads. */
      reads: string[];
      summary: ColumnSummary;
      levels: string[] | null;
      rows: number;
      /** A few rows: their number in the file, what is read, and what comes of it. */
      examples: { row: number; read: string[]; value: string }[];
      /** Of a condition: rows in which it holds. */
      holds: number | null;
    }
  | { understood: false; sentence: string; from: number; to: number };

const ofStudy = '/api/studies/[study]/cohorts';
const one = '/api/cohorts/[cohort]';

export const cohortRoutes = {
  /** The lists of a study. */
  lists: route<CohortInfo[]>()('GET', ofStudy),
  /** Makes a cohort of an upload, as the confirmed dictionary says. */
  bringIn: route<{ id: string }>()('POST', ofStudy, {
    body: z.object({
      purpose: z.enum(['development', 'screening']),
      name: z.string().trim().min(1, 'Give the cohort a name.').max(120),
      uploadId: z.uuid(),
      dictionary: dictionarySchema.min(1, 'The cohort has no column.'),
    }),
  }),
  /** The development cohort, or null while there is none. */
  development: route<CohortInfo | null>()('GET', '/api/studies/[study]/development'),
  info: route<CohortInfo>()('GET', one),
  remove: route()('DELETE', one),
  restore: route()('POST', `${one}/restore`),
  erase: route()('POST', `${one}/erase`, { body: erasure }),
  /** A page of patients, each with its place in the cohort, and how many there are in all. */
  rows: route<{ total: number; places: number[]; rows: string[][] }>()('GET', `${one}/rows`, {
    query: z.object({
      from: z.coerce.number().int().min(0),
      count: z.coerce.number().int().min(1).max(500),
      /** A condition that the patients must meet. */
      where: z.string().max(4000).optional(),
    }),
  }),
  /** Changes the dictionary from what a page started from to what it wants. */
  changeDictionary: route()('PUT', `${one}/dictionary`, {
    body: z.object({
      base: dictionarySchema.min(1),
      mine: dictionarySchema.min(1),
      insist: z.boolean().optional(),
    }),
  }),
  /** Changes who is in, in the same way. */
  changeSelection: route()('PUT', `${one}/selection`, {
    body: z.object({
      base: selectionSchema,
      mine: selectionSchema,
      insist: z.boolean().optional(),
    }),
  }),
  tryFormula: route<FormulaTried>()('POST', `${one}/formula`, {
    body: z.object({
      formula: z.string().max(4000, 'A formula has at most 4,000 characters.'),
      /** The derived column that is being changed, if any. */
      column: z.string().optional(),
    }),
  }),
};
