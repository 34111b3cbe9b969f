import { caseScores, readScore, type CaseRule, type Outcome } from '@rook-scale/core/outcome';
import { scoreRows, type Model } from '@rook-scale/core/model';
import type { PredictorColumn } from '@rook-scale/core/preparation';
import {
  comparedWith,
  contributionsOf,
  effectOf,
  mostSimilar,
  takenRows,
  type Ask,
  type Contributions,
  type EffectShown,
  type Similar,
} from '@rook-scale/core/reasons';
import { knownLevels } from '@rook-scale/core/tuning';
import { modelOf, needsModel } from '../known-models.ts';

/** Columns in shared memory, and the model, which a thread may have still. */
interface Asked {
  /** The fit that is asked. */
  fit: string;
  model?: Model;
  cases: CaseRule;
  /** Predictors of every patient of the cohort. */
  columns: PredictorColumn[];
  developmentRows: Int32Array;
}

export interface EffectTask extends Asked {
  name: string;
  /** Of the development patients: 0 or 1, or the number. */
  truth: Float64Array;
  kind: Outcome['kind'];
}

export interface ReasonsTask extends Asked {
  row: number;
  seed: number;
}

export interface Reasons extends Contributions {
  similar: Similar[];
  compared: number;
}

/** How many others a patient is compared with, how often, and how many similar ones are told. */
const atMost = { compared: 200, orders: 200, similar: 10 };

export function workOutEffect(task: EffectTask): EffectShown | typeof needsModel {
  const model = modelOf(task);
  if (!model) return needsModel;
  const { columns, developmentRows, name, truth, kind } = task;
  const own = knownLevels(columns, developmentRows).map((column) =>
    takenRows(column, developmentRows),
  );
  return effectOf(askOf(model, task.cases), own, name, truth, kind !== 'number');
}

export function workOutReasons(task: ReasonsTask): Reasons | typeof needsModel {
  const model = modelOf(task);
  if (!model) return needsModel;
  const { columns, developmentRows, row, seed } = task;
  const known = knownLevels(columns, developmentRows);
  const patient = known.map((column) => takenRows(column, [row]));
  const development = known.map((column) => takenRows(column, developmentRows));
  const { length } = developmentRows;
  const compared = Math.min(length, atMost.compared);
  const places = Int32Array.from({ length: compared }, (_, i) =>
    Math.floor(((i + 0.5) * length) / compared),
  );
  return {
    ...contributionsOf(askOf(model, task.cases), patient, comparedWith(development, places), {
      orders: atMost.orders,
      seed,
    }),
    similar: mostSimilar(patient, development, atMost.similar, developmentRows.indexOf(row)).map(
      (one) => ({ ...one, row: developmentRows[one.row] }),
    ),
    compared,
  };
}

/** Scores as they are read: a risk, a share of cases, or the number itself. */
const askOf =
  (model: Model, cases: CaseRule): Ask =>
  (columns, rowCount) =>
    caseScores(scoreRows(model, columns, rowCount).predictions, cases).map((score) =>
      readScore(score, cases),
    );
