import type { Outcome, OutcomeKind, Predictions } from '../outcome/index.ts';
import { levelKappa } from './level-agreement.ts';
import {
  costPresets,
  giveLevels,
  levelCostPerThousand,
  levelRule,
  levelTable,
} from './level-table.ts';
import { numberErrors } from './number-errors.ts';
import { rate, type Figure, type Rate } from './rates.ts';

/** What is judged: predictions beside what happened, of patients whose outcome is known. */
export interface Judged<K extends OutcomeKind = OutcomeKind> {
  outcome: Outcome<K>;
  predictions: Predictions<K>;
}

/** A figure that sums up how good predictions of one kind are, besides those that look at cases. */
export interface Measure<K extends OutcomeKind = OutcomeKind> {
  id: string;
  /** As the head of a column. */
  name: string;
  /** In words, for whoever asks. */
  help: string;
  better: 'higher' | 'lower';
  /** In the outcome's unit, in that of costs, or a share or ratio without one. */
  unit: 'outcome' | 'share' | 'cost' | 'none';
  /** @param levelCosts of several levels; @see AllErrorCosts */
  of(judged: Judged<K>, levelCosts?: number[][]): Figure | Rate;
}

/** Every measure by kind. Cost, sensitivity and specificity for cases exist for all kinds and are not here. */
export const measuresByKind: { [K in OutcomeKind]: Measure<K>[] } = {
  event: [],
  levels: [
    {
      id: 'right level',
      name: 'right level',
      help: 'Patients who are given the level that they have.',
      better: 'higher',
      unit: 'share',
      of(judged, levelCosts) {
        const { counts } = tableOf(judged, levelCosts);
        const total = counts.flat().reduce((sum, count) => sum + count, 0);
        const count = counts.reduce((sum, row, k) => sum + row[k], 0);
        return rate(count, total);
      },
    },
    {
      id: 'weighted kappa',
      name: 'weighted kappa',
      help: 'Agreement of assigned and observed level beyond chance: quadratic weights where levels have an order, unweighted where they have none.',
      better: 'higher',
      unit: 'none',
      of: (judged, levelCosts) =>
        levelKappa(tableOf(judged, levelCosts), judged.outcome.ordered ? 'quadratic' : 'none'),
    },
    {
      id: 'level cost',
      name: 'level cost',
      help: 'Cost of wrong levels per 1,000 patients, by the design’s table; 1 an error where it has none.',
      better: 'lower',
      unit: 'cost',
      of(judged, levelCosts) {
        const costs = levelCosts ?? costPresets.equal(judged.outcome.levels.length);
        return { value: levelCostPerThousand(tableOf(judged, levelCosts), costs) };
      },
    },
    {
      id: 'log loss',
      name: 'log loss',
      help: 'Mean of minus the logarithm of the share given to the level that the patient has.',
      better: 'lower',
      unit: 'none',
      of: ({ outcome, predictions }) => ({ value: logLoss(outcome, predictions) }),
    },
  ],
  number: [
    {
      id: 'rmse',
      name: 'RMSE',
      help: 'Square root of the mean squared error.',
      better: 'lower',
      unit: 'outcome',
      of: (judged) => ({ value: errorsOf(judged)?.rootMeanSquare }),
    },
    {
      id: 'mae',
      name: 'MAE',
      help: 'Mean absolute error.',
      better: 'lower',
      unit: 'outcome',
      of: (judged) => ({ value: errorsOf(judged)?.meanAbsolute }),
    },
    {
      id: 'r squared',
      name: 'R²',
      help: 'Share of the variance explained; below 0 where the mean would have been nearer.',
      better: 'higher',
      unit: 'none',
      of: (judged) => ({ value: errorsOf(judged)?.rSquared }),
    },
  ],
};

/** Every figure of one kind by its id. */
export function figuresOf(judged: Judged, levelCosts?: number[][]): Record<string, Figure | Rate> {
  const measures = measuresByKind[judged.outcome.kind] as Measure[];
  return Object.fromEntries(
    measures.map((measure) => [measure.id, measure.of(judged, levelCosts)]),
  );
}

const tableOf = ({ outcome, predictions }: Judged<'levels'>, levelCosts: number[][] | undefined) =>
  levelTable(outcome, giveLevels(predictions, levelRule(levelCosts)));

const errorsOf = ({ outcome, predictions }: Judged<'number'>) =>
  numberErrors(outcome.values, predictions.values);

/** A share of 0 counts as 1e-15, so that one patient does not make the mean infinite (common practice). */
function logLoss({ values }: Outcome<'levels'>, { levels, shares }: Predictions<'levels'>) {
  let sum = 0;
  let patients = 0;
  for (let i = 0; i < values.length; i++) {
    if (values[i] < 0) continue;
    sum -= Math.log(Math.max(1e-15, shares[i * levels.length + values[i]]));
    patients++;
  }
  return patients > 0 ? sum / patients : undefined;
}
