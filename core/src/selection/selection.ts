import * as z from 'zod';

/** Who of the file's rows is a patient of the study. */
export const selectionSchema = z.object({
  /** What is kept of rows that are the same patient; null keeps all. */
  duplicates: z
    .object({
      by: z.enum(['identifier', 'all values']),
      keep: z.enum(['first', 'last', 'none']),
    })
    .nullable(),
  /** Patients in whom a condition holds are excluded, one condition after the other. */
  exclusions: z
    .array(
      z.object({
        condition: z.string().min(1).max(4000),
        reason: z.string().trim().min(1, 'Say why, in a few words.').max(200),
      }),
    )
    .max(100),
});
export type Selection = z.infer<typeof selectionSchema>;

export const everybody: Selection = { duplicates: null, exclusions: [] };

/** Whether a selection leaves every row in. */
export function keepsAll({ duplicates, exclusions }: Selection): boolean {
  return duplicates === null && exclusions.length === 0;
}

/** How the rows of the file became the patients of the study. */
export interface Flow {
  came: number;
  steps: { why: string; out: number; left: number }[];
  /** Grouped tables: the rows that are left stand for so many patients, by this column; in how many rows it is not known. */
  stand?: { by: string; patients: number; unknown: number };
}
