import * as z from 'zod';
import { familyOf } from '../families/index.ts';
import {
  applyPreparation,
  type FittedPreparation,
  type PredictorColumn,
} from '../preparation/index.ts';
import { dictionaryEntrySchema } from '../table/index.ts';

/** What the model expects of one predictor, and what it saw of it among development patients. */
const predictorSchema = dictionaryEntrySchema
  .pick({
    name: true,
    label: true,
    unit: true,
    kind: true,
    missingCodes: true,
    format: true,
    spellings: true,
    formula: true,
    plausible: true,
  })
  .extend({
    levels: z.array(z.string()).optional(),
    /** Least and greatest number among development patients. */
    range: z.tuple([z.number(), z.number()]).optional(),
    /** Mean and SD (divisor n - 1) of the known numbers among development patients. */
    mean: z.number().optional(),
    sd: z.number().optional(),
    /** Share of each of `levels` among the development patients where it was known. */
    levelShares: z.array(z.number()).optional(),
    /** Quartiles of the known numbers among development patients, type 7. */
    quartiles: z.tuple([z.number(), z.number(), z.number()]).optional(),
    /** Share of development patients where it was not known. */
    gapShare: z.number(),
  });
export type ModelPredictor = z.infer<typeof predictorSchema>;

/** Everything a later cohort needs, as plain JSON: giving it back gives identical risks. */
export const modelSchema = z.object({
  format: z.literal('rook-scale model'),
  version: z.literal(1),
  study: z.string(),
  candidate: z.string(),
  outcome: z.object({ name: z.string(), label: z.string(), event: z.string() }),
  development: z.object({ patients: z.number(), events: z.number() }),
  predictors: z.array(predictorSchema),
  /** Columns that are no predictors themselves but are read by the formulas of derived ones, in an order that can be worked out. */
  sources: z.array(predictorSchema).default([]),
  // Made and read by the preparation room alone.
  preparation: z.custom<FittedPreparation>((value) => typeof value === 'object' && value !== null),
  family: z.object({
    id: z.string(),
    settings: z.record(z.string(), z.union([z.number(), z.string(), z.boolean()])),
    fitted: z.unknown(),
  }),
});
export type Model = z.infer<typeof modelSchema>;

/** Risk of the event of each row. The columns must be aligned to the model. */
export function scoreRows(
  model: Model,
  columns: PredictorColumn[],
  rowCount: number,
): Float64Array {
  const rows = Int32Array.from({ length: rowCount }, (_, row) => row);
  const inputs = applyPreparation(model.preparation, columns, rows);
  return familyOf(model.family.id).revive(model.family.fitted).predict(inputs);
}
