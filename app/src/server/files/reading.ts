import { z } from 'zod';
import { encodings } from './decode.ts';

/** Marks that can part the cells of a row. */
export const delimiters = [',', ';', '\t', '|'] as const;

/** How the bytes of a file are taken as a table. Each part is guessed and can be set. */
export const readingSchema = z.object({
  delimiter: z.enum(delimiters),
  encoding: z.enum(encodings),
  /** Rows at the end that are no patients, such as totals. */
  leaveOutLast: z.number().int().min(0).max(20),
});
export type Reading = z.infer<typeof readingSchema>;

/** Something the analyst should know about how a file was read. */
export interface Remark {
  code: 'uneven rows' | 'names' | 'totals' | 'unreadable characters' | 'one column';
  title: string;
  sentence: string;
}
