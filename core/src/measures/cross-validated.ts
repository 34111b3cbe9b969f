import {
  caseScores,
  casesOf,
  takeOutcome,
  takePredictions,
  type CaseRule,
  type OutcomeKind,
} from '../outcome/index.ts';
import { figuresOf, type Judged } from './by-kind.ts';
import type { Clusters } from './clusters.ts';
import { costPerThousand, type AllErrorCosts } from './costs.ts';
import { chooseCutoff, type CutoffRule } from './cutoff.ts';
import { costAtCutoffs, crossFittedCutoffs } from './cross-fitted.ts';
import { errorTable, type ErrorTable } from './error-table.ts';
import { nobodyCutoff, rankRisks } from './ranked.ts';
import { rate, type Figure, type Rate } from './rates.ts';
import { areaUnderCurve } from './roc.ts';

/** How a candidate does out of fold, at the cutoff its rule gives. */
export interface CrossValidated {
  cutoff: number;
  /** Counts of cases and others; `ratesOf` gives the rates. */
  table: ErrorTable;
  costPerThousand: number;
  /**
   * The same with the cutoff of each fold chosen in the other folds; absent with a cutoff set by hand, and in
   * results from before it was worked out.
   */
  costCrossFitted?: number;
  /** Mean of the areas of the folds, each fold judged by its own model; with the least and greatest. */
  area: { mean: number; least: number; greatest: number } | undefined;
  /** The measures of the outcome's kind by their id; absent for yes/no outcomes, which have none besides. */
  figures?: Record<string, Figure | Rate>;
}

/** Beyond any predicted number. */
const beyondNumbers = Number.MAX_VALUE;

/** A cutoff that no score of predictions of this kind reaches. */
export const nobodyOf = (kind: OutcomeKind): number =>
  kind === 'number' ? beyondNumbers : nobodyCutoff;

/**
 * Judges out-of-fold predictions of any kind: what a case is makes them scores, and the rule puts the
 * cutoff on those.
 *
 * @param folds fold of each prediction
 * @param times how often each patient is among them: those of each time behind one another
 * @param clusters of the predictions, where several rows are of one patient or group
 */
export function judgeOutOfFold(
  judged: Judged,
  cases: CaseRule,
  folds: ArrayLike<number>,
  rule: CutoffRule,
  costs: AllErrorCosts,
  times = 1,
  clusters?: Clusters,
): CrossValidated {
  const { outcome, predictions } = judged;
  const figures = meanFigures(
    Array.from({ length: times }, (_, time) =>
      figuresOf(times === 1 ? judged : oneTime(judged, time, times), costs.levelCosts),
    ),
  );
  return {
    ...crossValidated(
      caseScores(predictions, cases),
      casesOf(outcome, cases),
      folds,
      rule,
      costs,
      nobodyOf(outcome.kind),
      times,
      clusters,
    ),
    ...(Object.keys(figures).length > 0 && { figures }),
  };
}

/**
 * @param risks out-of-fold risks of the development patients, those of each time behind one another
 * @param folds fold of each
 */
export function crossValidated(
  risks: Float64Array,
  events: ArrayLike<number>,
  folds: ArrayLike<number>,
  rule: CutoffRule,
  costs: AllErrorCosts,
  nobody = nobodyCutoff,
  times = 1,
  clusters?: Clusters,
): CrossValidated {
  const ranked = rankRisks(risks, events, nobody, costs.own, times, clusters);
  const cutoff = chooseCutoff(rule, ranked, costs);
  const table = errorTable(ranked, cutoff);
  const cutoffs =
    rule.rule === 'hand'
      ? undefined
      : crossFittedCutoffs(risks, events, folds, rule, costs, nobody, times);
  return {
    cutoff,
    table,
    costPerThousand: costPerThousand(ranked, cutoff, costs),
    ...(cutoffs && { costCrossFitted: costAtCutoffs(risks, events, cutoffs, costs) }),
    area: areaByFold(risks, events, folds),
  };
}

/** What was predicted of all patients one of the times. */
function oneTime({ outcome, predictions }: Judged, time: number, times: number): Judged {
  const length = outcome.values.length / times;
  const places = Int32Array.from({ length }, (_, i) => time * length + i);
  return {
    outcome: takeOutcome(outcome, places),
    predictions: takePredictions(predictions, places),
  };
}

/** Each figure's mean over the times, and of intervals the mean of either end. */
function meanFigures(all: Record<string, Figure | Rate>[]): Record<string, Figure | Rate> {
  if (all.length === 1) return all[0];
  const mean = (values: number[]) => values.reduce((sum, one) => sum + one, 0) / values.length;
  return Object.fromEntries(
    Object.keys(all[0]).map((id) => {
      const each = all.map((one) => one[id]);
      if (each.every((one): one is Rate => 'total' in one))
        return [id, rate(mean(each.map(({ count }) => count)), each[0].total)];
      const known = each.filter(({ value }) => value !== undefined);
      if (known.length === 0) return [id, {}];
      const ends = each.flatMap(({ interval }) => (interval ? [interval] : []));
      return [
        id,
        {
          value: mean(known.map(({ value }) => value!)),
          ...(ends.length === each.length && {
            interval: [mean(ends.map(([low]) => low)), mean(ends.map(([, high]) => high))],
          }),
        },
      ];
    }),
  );
}

function areaByFold(risks: Float64Array, events: ArrayLike<number>, folds: ArrayLike<number>) {
  const members = new Map<number, number[]>();
  for (let i = 0; i < risks.length; i++) {
    const fold = members.get(folds[i]);
    if (fold) fold.push(i);
    else members.set(folds[i], [i]);
  }
  const areas = [...members.values()].flatMap((rows) => {
    const area = areaUnderCurve(
      rows.map((i) => risks[i]),
      rows.map((i) => events[i]),
    );
    return area ? [area.value] : [];
  });
  if (areas.length === 0) return undefined;
  return {
    mean: areas.reduce((sum, area) => sum + area, 0) / areas.length,
    least: Math.min(...areas),
    greatest: Math.max(...areas),
  };
}
