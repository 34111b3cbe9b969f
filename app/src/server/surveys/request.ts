import * as z from 'zod';

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
]);
export type SurveyRequest = z.infer<typeof surveyRequestSchema>;

/** Under which name the result is kept: one for each way of asking. */
export function partName(request: SurveyRequest): string {
  const { part } = request;
  const detail =
    part === 'relations' ? request.against : part === 'associations' ? request.ranked : '';
  const patients = 'look' in request && request.look ? 'all' : '';
  return [part, detail, patients].filter(Boolean).join(' · ');
}
