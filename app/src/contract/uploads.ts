import * as z from 'zod';
import type { ColumnTally, Proposal } from '@rook-scale/core/table';
import { route } from './route.ts';

/** Encodings of delimited text, by the names of the Encoding Standard. */
export const encodings = ['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'] as const;

/** Marks that can part the cells of a row. */
export const delimiters = [',', ';', '\t', '|'] as const;

/** Kinds of file other than delimited text. */
export const formats = ['workbook', 'Parquet', 'JSON', 'JSON lines'] as const;

export type Format = (typeof formats)[number];

/** How the bytes of a file are taken as a table. Each part is guessed and can be set. */
export const readingSchema = z.object({
  delimiter: z.enum(delimiters),
  encoding: z.enum(encodings),
  /** Rows at the end that are no patients, such as totals. */
  leaveOutLast: z.number().int().min(0).max(20),
  /** Absent for delimited text. */
  format: z.enum(formats).optional(),
  /** Of a workbook: the sheet that is read, and those it has. */
  sheet: z.string().max(200).optional(),
  sheets: z.array(z.string()).max(1000).optional(),
  /** Of a sheet: the row that names the columns, from 1. */
  headerRow: z.number().int().min(1).max(1000).optional(),
});

export type Reading = z.infer<typeof readingSchema>;

/** Something the analyst should know about how a file was read. */
export interface Remark {
  code:
    | 'uneven rows'
    | 'names'
    | 'totals'
    | 'unreadable characters'
    | 'one column'
    | 'line breaks'
    | 'nested'
    | 'error cells'
    | 'times'
    | 'combined';
  title: string;
  sentence: string;
}

/** A file as understood, before anything of it becomes a cohort. */
export interface UploadReview {
  id: string;
  fileName: string;
  size: number;
  rowCount: number;
  /** How its bytes were taken as a table. */
  reading: Reading;
  columns: { tally: ColumnTally; proposal: Proposal }[];
  /** The first rows as text, in the order of `columns`. */
  firstRows: string[][];
  remarks: Remark[];
}

/** How far the reading of a kept file has come. */
export interface ReadingProgress {
  rowsDone: number;
  rowsTotal: number;
  /** Milliseconds since it began. */
  elapsed: number;
}

/** How a second file is put to a first. */
export const combinationSchema = z.discriminatedUnion('how', [
  /** Its patients stand below, columns matched by name. */
  z.object({ how: z.literal('append'), first: z.uuid(), second: z.uuid() }),
  /** Its patients stand below in the first file's columns only. */
  z.object({
    how: z.literal('below'),
    first: z.uuid(),
    second: z.uuid(),
    /** Which of its columns stands for one of the first file's; the others are not known of them. */
    columns: z.record(z.string(), z.string()),
  }),
  /** Its columns stand beside, patients matched by a column of each. */
  z.object({
    how: z.literal('join'),
    first: z.uuid(),
    second: z.uuid(),
    on: z.string().min(1),
    onSecond: z.string().min(1),
    /** What is taken when a patient has several rows in the second file. */
    several: z.enum(['refuse', 'first', 'last', 'mean']),
  }),
]);

export type Combination = z.infer<typeof combinationSchema>;

const one = '/api/uploads/[upload]';

export const uploadRoutes = {
  review: route<UploadReview>()('GET', one),
  /** How far the kept file has been read into a cohort; null while it is not. */
  progress: route<ReadingProgress | null>()('GET', `${one}/progress`),
  /** Reads the kept bytes in another way, and says how they are understood then. */
  readAnew: route<UploadReview>()('PUT', `${one}/reading`, { body: readingSchema }),
  combine: route<UploadReview>()('POST', '/api/uploads/combine', { body: combinationSchema }),
};
