import {
  familyOf,
  type Facet,
  type FitContext,
  type FitWarning,
  type ModelSize,
  type Saved,
} from '../families/index.ts';
import { corrected, shiftOf, type Correction } from '../balancing/index.ts';
import { areaUnderCurve } from '../measures/index.ts';
import {
  emptyLike,
  numbersOf,
  ofKind,
  predictionsOf,
  widthOf,
  type Outcome,
  type Predictions,
} from '../outcome/index.ts';
import { learnBlend } from './blend.ts';
import { learnRecalibrated } from './recalibrate.ts';
import { groundOf, learnFrom, type FitPart, type FitRecipe, type Ground } from './ground.ts';
import { regionMap } from './region-map.ts';
import {
  applyPreparation,
  readsColumn,
  applyToEach,
  type FittedPreparation,
  type PredictorColumn,
} from '../preparation/index.ts';

export interface FitPartResult {
  name: string;
  preparation: FittedPreparation;
  /** The fitted family as it is kept. */
  model: Saved;
  warnings: FitWarning[];
  /** What the model can show of itself; of 'all' only. */
  facets: Facet[];
  /** For `predictRows`, in their order. */
  predictions: Predictions;
  /** Shares of cases before and after balancing, where there was any. */
  correction?: Correction;
  /** Of 'all' only: AUC in the very patients it was fitted on, to be set beside the out-of-fold one. */
  apparentArea?: number;
  /** Of 'all' only. */
  size?: ModelSize;
  /** Of 'all' only: milliseconds in which a thousand patients are prepared and predicted. */
  scoreTime?: number;
}

/**
 * The parts of a candidate's fit: one a fold, which learns on the other folds, and 'all', which
 * learns on every development patient and predicts those who were set aside.
 *
 * @param folds of each development row; where they were dealt several times, those of each time
 *   behind one another, and numbered on
 */
export function planParts(
  developmentRows: Int32Array,
  folds: Uint8Array,
  setAsideRows: Int32Array,
): FitPart[] {
  const count = folds.reduce((most, fold) => Math.max(most, fold), 0) + 1;
  const { length } = developmentRows;
  const parts = Array.from({ length: count }, (_, fold): FitPart => {
    const from = length * Math.floor(folds.indexOf(fold) / length);
    const dealt = folds.subarray(from, from + length);
    return {
      name: `fold ${fold + 1}`,
      learnRows: developmentRows.filter((_, i) => dealt[i] !== fold),
      predictRows: developmentRows.filter((_, i) => dealt[i] === fold),
      learnFolds: dealt.filter((one) => one !== fold),
    };
  });
  return [
    ...parts,
    {
      name: 'all',
      learnRows: developmentRows,
      predictRows: setAsideRows,
      learnFolds: folds.slice(0, length),
    },
  ];
}

/**
 * Fits preparation and family on the learning rows alone, then predicts.
 *
 * @param known the preparation, where it was learned already on the same rows of the same columns
 * @param told hears how far the fit is, from families that can tell: see `FitContext`
 */
export function fitPart(
  part: FitPart,
  predictors: PredictorColumn[],
  outcome: Outcome,
  recipe: FitRecipe,
  known?: FittedPreparation,
  told: Pick<FitContext, 'progress' | 'learning'> = {},
): FitPartResult {
  const { description } = familyOf(recipe.family);
  const learned = learnPart(part, predictors, outcome, recipe, known, told);
  const { ground, predict, correction, fitted, warnings, describe, size } = learned;
  const { preparation, inputs, used, met } = ground;
  const whole = part.name === 'all';
  const described = whole ? describe() : { facets: [], warnings: [] };
  // Trees on samples know their own patients by heart, as they are meant to: it would tell nothing.
  const apparent =
    whole && ground.learned.kind === 'event' && !drawsPatients(recipe)
      ? areaUnderCurve(
          predictionsOf(fitted.predict(inputs), 'event').risks,
          ofKind(ground.learned, 'event').values,
        )?.value
      : undefined;
  const regions =
    whole && used.length === 2 && !description.fixed
      ? regionMap(used, part.learnRows, (columns, count) =>
          predict(
            columns,
            Int32Array.from({ length: count }, (_, row) => row),
          ),
        )
      : undefined;
  const model = fitted.save();
  return {
    name: part.name,
    preparation,
    model,
    warnings: [
      ...warnings,
      ...described.warnings,
      ...(correction ? [balancedWarning(correction)] : []),
    ],
    ...(correction && { correction }),
    facets: [
      ...described.facets,
      ...(regions ? [{ kind: 'regions' as const, value: regions }] : []),
    ],
    predictions: predict(met, part.predictRows),
    ...(apparent !== undefined && { apparentArea: apparent }),
    ...(whole && {
      size: { ...sizeOf(recipe, ground, model), ...size },
      scoreTime: timeOf(part.learnRows, (rows) => predict(met, rows)),
    }),
  };
}

/**
 * Preparation and family learned on the learning rows alone, and a way to ask what they say of any patients. The
 * columns of those who are asked about must have levels as `ground.met` has them.
 */
export function learnPart(
  part: FitPart,
  predictors: PredictorColumn[],
  outcome: Outcome,
  recipe: FitRecipe,
  known?: FittedPreparation,
  told: Pick<FitContext, 'progress' | 'learning'> = {},
) {
  const ground = groundOf(part, predictors, outcome, recipe, known);
  const { composed } = familyOf(recipe.family).description;
  const learnComposed = composed === 'of one' ? learnRecalibrated : learnBlend;
  const result = recipe.parts
    ? learnComposed(part, ground, outcome, { ...recipe, parts: recipe.parts }, told)
    : learnFrom(ground, recipe, told);
  return {
    ...result,
    ground,
    predict: (columns: PredictorColumn[], rows: ArrayLike<number>): Predictions =>
      corrected(
        result.fitted.predict(applyPreparation(ground.preparation, columns, rows)),
        result.correction,
      ),
    /** The same of so many patients, each time with other values of some columns. */
    predictAltered: (
      columns: PredictorColumn[],
      alternatives: PredictorColumn[][],
      rowCount: number,
    ): Predictions[] => {
      const rows = Int32Array.from({ length: rowCount }, (_, row) => row);
      const tables = [columns, ...alternatives];
      const [inputs, ...altered] = applyToEach(ground.preparation, tables, rows);
      const { fitted, correction } = result;
      const found =
        fitted.predictAltered?.(inputs, altered) ?? altered.map((one) => fitted.predict(one));
      return found.map((predictions) => corrected(predictions, correction));
    },
  };
}

/** Whether the model, or any part of a blend, draws patients by chance. */
const drawsPatients = ({ family, parts = [] }: FitRecipe): boolean =>
  familyOf(family).description.drawsPatients === true ||
  parts.some(({ recipe }) => drawsPatients(recipe));

/** Inputs with a part in the prediction, and the predictors that they are made from. */
function sizeOf(
  { family }: FitRecipe,
  { preparation, inputs, used }: Ground,
  model: Saved,
): Pick<ModelSize, 'inputs' | 'predictors'> & { inputs: number } {
  const read = familyOf(family).reads?.(model, inputs.names) ?? inputs.names;
  const meanings = preparation.inputs.filter(({ name }) => read.includes(name));
  const predictors = used.filter(
    ({ name }) => read.includes(name) || meanings.some((input) => readsColumn(input, name)),
  );
  return { inputs: read.length, predictors: predictors.length };
}

/** Patients by whom it is timed how fast a model scores, and the milliseconds that are enough to tell. */
const timed = { patients: 1000, enough: 20 };

/** Milliseconds a thousand patients: of several times the shortest, which nothing else has slowed down. */
function timeOf(rows: Int32Array, predict: (rows: Int32Array) => unknown): number {
  const some = rows.subarray(0, timed.patients);
  let least = Infinity;
  const begun = performance.now();
  do {
    const start = performance.now();
    predict(some);
    least = Math.min(least, performance.now() - start);
  } while (performance.now() - begun < timed.enough);
  return (least * timed.patients) / some.length;
}

/** That risks are of the patients as they came, though what is shown of the fit is not. */
function balancedWarning(correction: Correction): FitWarning {
  const percent = (share: number) => `${Number((100 * share).toPrecision(3))}%`;
  return {
    code: 'balanced',
    sentence: `Learned from patients balanced to ${percent(correction.learned)} cases. Risks are brought back to the true ${percent(correction.share)}; the constant in the table is of the balanced patients (${shiftOf(correction).toFixed(3)} too high), and so are standard errors and p.`,
  };
}

/**
 * Out-of-fold predictions from the results of the fold parts: one an entry of `folds`, so in the order
 * of the development rows, and where they were dealt several times those of each time in turn.
 */
export function collectOutOfFold(
  folds: Uint8Array,
  results: Pick<FitPartResult, 'name' | 'predictions'>[],
): Predictions {
  const parts = results.filter(({ name }) => name !== 'all');
  const first = parts[0].predictions;
  const collected = emptyLike(first, folds.length);
  const to = numbersOf(collected);
  const width = widthOf(first);
  for (const { name, predictions } of parts) {
    const fold = Number(name.slice('fold '.length)) - 1;
    const from = numbersOf(predictions);
    let next = 0;
    for (let i = 0; i < folds.length; i++)
      if (folds[i] === fold) for (let k = 0; k < width; k++) to[i * width + k] = from[next++];
  }
  return collected;
}
