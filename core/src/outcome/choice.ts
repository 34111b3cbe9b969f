import * as z from 'zod';

/** Which column is predicted, and as what. */
export const outcomeChoiceSchema = z.discriminatedUnion('kind', [
  /** One level against all others. */
  z.object({ kind: z.literal('event'), column: z.string(), event: z.string() }),
  /** Several levels; models that compare them do so with the reference level. */
  z.object({
    kind: z.literal('levels'),
    column: z.string(),
    reference: z.string(),
    ordered: z.boolean(),
  }),
  z.object({ kind: z.literal('number'), column: z.string() }),
]);
export type OutcomeChoice = z.infer<typeof outcomeChoiceSchema>;

/** A choice that these patients cannot bear, with a sentence for the analyst. */
export class OutcomeError extends Error {}
