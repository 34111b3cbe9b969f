import {
  areaUnderCurve,
  measuresByKind,
  ratesOf,
  type AllErrorCosts,
  type ErrorTable,
  type Judged,
  type Measure,
} from '../measures/index.ts';
import { ofKind, predictionsOf, type OutcomeKind } from '../outcome/index.ts';

/** Patients as a measure looks at them, at the cutoff that all of them together give. */
export interface Scored {
  judged: Judged;
  /** How much each is taken for a case. */
  scores: Float64Array;
  /** 1 for cases. */
  cases: Uint8Array;
  cutoff: number;
  /** By patient, where each is judged at a cutoff that others gave. */
  cutoffs?: Float64Array;
  /** With each patient's own, one a row, where they have such. */
  costs: AllErrorCosts;
}

/** What settings can be compared by. */
export interface SearchMeasure {
  id: string;
  /** As the head of a column. */
  name: string;
  help: string;
  better: 'higher' | 'lower';
  unit: Measure['unit'];
  of(scored: Scored): number | undefined;
}

const calls: SearchMeasure[] = [
  {
    id: 'cost',
    name: 'Cost per 1,000',
    help: 'Cost of the errors per 1,000 patients; the cutoff of each fold is the cheapest in the other folds.',
    better: 'lower',
    unit: 'cost',
    of: costOf,
  },
  {
    id: 'auc',
    name: 'AUC',
    help: 'Area under the ROC curve, the mean of the folds.',
    better: 'higher',
    unit: 'share',
    of: ({ scores, cases }) => areaUnderCurve(scores, cases)?.value,
  },
];

const atCutoff: SearchMeasure[] = [
  {
    id: 'f1',
    name: 'F1',
    help: 'Harmonic mean of sensitivity and positive predictive value at the cheapest cutoff of the other folds.',
    better: 'higher',
    unit: 'share',
    of(scored) {
      const { found, missed, falseAlarms } = tableOf(scored);
      const either = 2 * found + missed + falseAlarms;
      return either > 0 ? (2 * found) / either : undefined;
    },
  },
  {
    id: 'kappa',
    name: 'Kappa',
    help: 'Agreement of calls and outcomes beyond chance at the cheapest cutoff of the other folds.',
    better: 'higher',
    unit: 'none',
    of: (scored) => ratesOf(tableOf(scored)).kappa.value,
  },
  {
    id: 'accuracy',
    name: 'Accuracy',
    help: 'Share of right calls at the cheapest cutoff of the other folds; calling nobody or everybody has the majority baseline.',
    better: 'higher',
    unit: 'share',
    of: (scored) => ratesOf(tableOf(scored)).accuracy.value,
  },
];

const ofRisks: SearchMeasure[] = [
  {
    id: 'log loss',
    name: 'Log loss',
    help: 'Mean of minus the logarithm of the risk given to what happened.',
    better: 'lower',
    unit: 'none',
    of: meanOver((risk, event) => -Math.log(Math.max(1e-15, event ? risk : 1 - risk))),
  },
  {
    id: 'brier',
    name: 'Brier score',
    help: 'Mean squared distance of the risk from what happened, 0 or 1.',
    better: 'lower',
    unit: 'none',
    of: meanOver((risk, event) => (risk - event) ** 2),
  },
];

/** What settings can be compared by, for each kind of outcome; the first where nothing else is asked for. */
export const searchMeasures: { [K in OutcomeKind]: SearchMeasure[] } = {
  event: [...calls, ...ofRisks, ...atCutoff],
  levels: [...ofKindOnly('levels'), ...calls],
  number: [...ofKindOnly('number'), ...calls],
};

/** The measures that stand in the table of candidates too. */
function ofKindOnly(kind: OutcomeKind): SearchMeasure[] {
  return (measuresByKind[kind] as Measure[]).map((measure) => ({
    ...measure,
    name: measure.name.charAt(0).toUpperCase() + measure.name.slice(1),
    of: ({ judged, costs }) => measure.of(judged, costs.levelCosts).value,
  }));
}

function costOf({ scores, cases, cutoff, cutoffs, costs }: Scored): number | undefined {
  if (scores.length === 0) return undefined;
  let sum = 0;
  for (let i = 0; i < scores.length; i++) {
    const isCalled = scores[i] >= (cutoffs ? cutoffs[i] : cutoff);
    if (cases[i] && !isCalled) sum += costs.own ? costs.own.missed[i] : costs.missedCost;
    if (!cases[i] && isCalled) sum += costs.own ? costs.own.falseAlarm[i] : costs.falseAlarmCost;
  }
  return (1000 * sum) / scores.length;
}

function tableOf({ scores, cases, cutoff, cutoffs }: Scored): ErrorTable {
  const table = { found: 0, missed: 0, falseAlarms: 0, rightlyLeft: 0 };
  for (let i = 0; i < scores.length; i++) {
    const isCalled = scores[i] >= (cutoffs ? cutoffs[i] : cutoff);
    if (cases[i]) table[isCalled ? 'found' : 'missed']++;
    else table[isCalled ? 'falseAlarms' : 'rightlyLeft']++;
  }
  return table;
}

function meanOver(loss: (risk: number, event: number) => number): SearchMeasure['of'] {
  return ({ judged: { predictions, outcome } }) => {
    const { risks } = predictionsOf(predictions, 'event');
    const { values } = ofKind(outcome, 'event');
    let [sum, count] = [0, 0];
    for (let i = 0; i < risks.length; i++) {
      if (values[i] < 0) continue;
      sum += loss(risks[i], values[i]);
      count++;
    }
    return count > 0 ? sum / count : undefined;
  };
}
