import { familyOf, settingsSchema, type Settings } from '../families/index.ts';
import { areaUnderCurve } from '../measures/index.ts';
import {
  applyPreparation,
  fitPreparation,
  type FittedPreparation,
  type PredictorColumn,
} from '../preparation/index.ts';

/** One independent piece of a candidate's fit: learn on some patients, predict others. */
export interface FitPart {
  /** 'fold 1' … 'fold 5', or 'all' for the model itself. */
  name: string;
  learnRows: Int32Array;
  predictRows: Int32Array;
}

export interface FitPartResult {
  name: string;
  preparation: FittedPreparation;
  /** Plain JSON of the fitted family. */
  model: unknown;
  /** Risks of `predictRows`, in their order. */
  risks: Float64Array;
  /** Of 'all' only: AUC in the very patients it was fitted on, to be set beside the out-of-fold one. */
  apparentArea?: number;
}

/**
 * The parts of a candidate's fit: one a fold, which learns on the other folds, and 'all', which
 * learns on every development patient and predicts the held-out ones.
 */
export function planParts(
  developmentRows: Int32Array,
  folds: Uint8Array,
  heldOutRows: Int32Array,
): FitPart[] {
  const count = folds.reduce((most, fold) => Math.max(most, fold), 0) + 1;
  const parts = Array.from({ length: count }, (_, fold): FitPart => ({
    name: `fold ${fold + 1}`,
    learnRows: developmentRows.filter((_, i) => folds[i] !== fold),
    predictRows: developmentRows.filter((_, i) => folds[i] === fold),
  }));
  return [...parts, { name: 'all', learnRows: developmentRows, predictRows: heldOutRows }];
}

/** Fits preparation and family on the learning rows alone, then predicts. */
export function fitPart(
  part: FitPart,
  predictors: PredictorColumn[],
  events: ArrayLike<number>,
  recipe: { family: string; settings: Settings; seed: number },
): FitPartResult {
  const family = familyOf(recipe.family);
  const settings = settingsSchema(family.settings).parse(recipe.settings);
  const used = family.blind ? [] : predictors;
  const learned = new Float64Array(part.learnRows.length);
  for (let i = 0; i < learned.length; i++) learned[i] = events[part.learnRows[i]];
  const { preparation, inputs } = fitPreparation(used, part.learnRows, learned);
  const fitted = family.fit(inputs, learned, settings, { seed: recipe.seed });
  const apparent =
    part.name === 'all' ? areaUnderCurve(fitted.predict(inputs), learned)?.value : undefined;
  return {
    name: part.name,
    preparation,
    model: fitted.toJSON(),
    risks: fitted.predict(applyPreparation(preparation, used, part.predictRows)),
    ...(apparent !== undefined && { apparentArea: apparent }),
  };
}

/** Out-of-fold risks in the order of `developmentRows`, from the results of the fold parts. */
export function collectOutOfFold(folds: Uint8Array, results: FitPartResult[]): Float64Array {
  const risks = new Float64Array(folds.length);
  results.forEach((result) => {
    if (result.name === 'all') return;
    const fold = Number(result.name.slice('fold '.length)) - 1;
    let next = 0;
    for (let i = 0; i < folds.length; i++) if (folds[i] === fold) risks[i] = result.risks[next++];
  });
  return risks;
}
