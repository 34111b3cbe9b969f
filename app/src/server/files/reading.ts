import * as z from 'zod';
import { encodings } from './decode.ts';

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
    | 'nested'
    | 'combined';
  title: string;
  sentence: string;
}
