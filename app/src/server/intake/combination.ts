import * as z from 'zod';

/** How a second file is put to a first. */
export const combinationSchema = z.discriminatedUnion('how', [
  /** Its patients stand below, columns matched by name. */
  z.object({ how: z.literal('append'), first: z.uuid(), second: z.uuid() }),
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
