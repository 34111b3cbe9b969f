import * as z from 'zod';
import { familyOf, type Fitted, type Neighbours, type Saved } from '../families/index.ts';
import { caseRuleSchema, outcomeChoiceSchema, type Predictions } from '../outcome/index.ts';
import { corrected } from '../balancing/index.ts';
import {
  applyPreparation,
  preparationSchema,
  raisePreparation,
  type PredictorColumn,
} from '../preparation/index.ts';
import { arrayLayoutSchema, packArrays, stored, unpackArrays } from '../stored/index.ts';
import { dictionaryEntrySchema } from '../table/index.ts';
import { surroundingsSchema } from './surroundings.ts';

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

const modelSchema = z.object({
  format: z.literal('rook-scale model'),
  version: z.literal(4),
  study: z.string(),
  candidate: z.string(),
  outcome: z.object({
    choice: outcomeChoiceSchema,
    label: z.string(),
    unit: z.string(),
    /** Kind 'levels': all of them, in their order. */
    levels: z.array(z.string()).optional(),
    /** What a case is: as it was when the model was fitted, or as it is now. */
    cases: caseRuleSchema,
  }),
  /** Patients it was fitted on, and how many of them were cases then. */
  development: z.object({ patients: z.number(), events: z.number() }),
  predictors: z.array(predictorSchema),
  /** Columns that are no predictors themselves but are read by the formulas of derived ones, in an order that can be worked out. */
  sources: z.array(predictorSchema).default([]),
  preparation: preparationSchema,
  /** Shares of cases before and after balancing, where the family learned from balanced patients. */
  correction: z.object({ share: z.number(), learned: z.number() }).optional(),
  /** Who is unlike the development patients; absent where it cannot be told, and in models from before it was. */
  surroundings: surroundingsSchema.optional(),
  family: z.object({
    id: z.string(),
    settings: z.record(
      z.string(),
      z.union([z.number(), z.string(), z.boolean(), z.array(z.string())]),
    ),
    /** The fitted family; its arrays stand apart, as bytes. */
    saved: z.object({ version: z.number().int(), json: z.unknown(), arrays: arrayLayoutSchema }),
  }),
});
type ModelJson = z.infer<typeof modelSchema>;

/** Everything a later cohort needs: giving it back gives identical predictions. */
export type Model = Omit<ModelJson, 'family'> & {
  family: Omit<ModelJson['family'], 'saved'> & { saved: Saved };
};

/**
 * Models as they are kept. Version 1 knew yes/no outcomes only, version 2 one fixed preparation and no
 * arrays; version 3 no correction, which a reader of then would leave out.
 */
const modelStored = stored('model', modelSchema, [
  (older) => {
    const { name, label, event } = older.outcome as Record<'name' | 'label' | 'event', string>;
    return {
      ...older,
      outcome: {
        choice: { kind: 'event', column: name, event },
        label,
        unit: '',
        cases: { kind: 'event' },
      },
    };
  },
  (older) => {
    const { fitted, ...family } = older.family as Record<string, unknown>;
    return {
      ...older,
      preparation: raisePreparation(older.preparation),
      family: { ...family, saved: { version: 1, json: fitted, arrays: [] } },
    };
  },
  (older) => older,
]);

/** A model as it is kept: plain JSON with its version, and the bytes of its arrays. */
export interface PackedModel {
  json: unknown;
  bytes: Uint8Array;
}

export function packModel(model: Model): PackedModel {
  const { saved, ...family } = model.family;
  const { layout, bytes } = packArrays(saved.arrays);
  const json = { ...model, family: { ...family, saved: { ...saved, arrays: layout } } };
  return { json: modelStored.write(json), bytes };
}

/** @throws StoredError or ArraysError where it is of a later version, or not what it should be */
export function unpackModel({ json, bytes }: PackedModel): Model {
  const { family, ...model } = modelStored.read(json);
  const { saved, ...rest } = family;
  const arrays = unpackArrays(saved.arrays, bytes);
  return { ...model, family: { ...rest, saved: { ...saved, arrays } } };
}

/** What a model says of patients. */
export interface Scored {
  predictions: Predictions;
  /** Lower and upper end of each patient's 95% prediction interval, in turn, where the family has one. */
  intervals?: Float64Array;
}

/** What the model says of each row. The columns must be aligned to the model. */
export function scoreRows(model: Model, columns: PredictorColumn[], rowCount: number): Scored {
  const rows = Int32Array.from({ length: rowCount }, (_, row) => row);
  const inputs = applyPreparation(model.preparation, columns, rows);
  const fitted = reviveFamily(model);
  const intervals = fitted.intervals?.(inputs);
  const predictions = corrected(fitted.predict(inputs), model.correction);
  return { predictions, ...(intervals && { intervals }) };
}

/** Those by whom the model judges one patient, where its family judges so. */
export function neighboursIn(model: Model, columns: PredictorColumn[]): Neighbours | undefined {
  const fitted = reviveFamily(model);
  return fitted.neighbours?.(applyPreparation(model.preparation, columns, Int32Array.of(0)));
}

/** The fitted family of a model. */
export function reviveFamily({ family }: Model): Fitted {
  return familyOf(family.id).revive(family.saved);
}
