import { caseScores, casesOf, type CaseRule, type OutcomeKind } from '../outcome/index.ts';
import { figuresOf, type Judged } from './by-kind.ts';
import { costPerThousand, type AllErrorCosts } from './costs.ts';
import { chooseCutoff, type CutoffRule } from './cutoff.ts';
import { errorTable, type ErrorTable } from './error-table.ts';
import { nobodyCutoff, rankRisks } from './ranked.ts';
import type { Figure, Rate } from './rates.ts';
import { areaUnderCurve } from './roc.ts';

/** How a candidate does out of fold, at the cutoff its rule gives. */
export interface CrossValidated {
  cutoff: number;
  /** Counts of cases and others; `ratesOf` gives the rates. */
  table: ErrorTable;
  costPerThousand: number;
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
 * @param folds fold of each development patient
 */
export function judgeOutOfFold(
  judged: Judged,
  cases: CaseRule,
  folds: ArrayLike<number>,
  rule: CutoffRule,
  costs: AllErrorCosts,
): CrossValidated {
  const { outcome, predictions } = judged;
  const figures = figuresOf(judged, costs.levelCosts);
  return {
    ...crossValidated(
      caseScores(predictions, cases),
      casesOf(outcome, cases),
      folds,
      rule,
      costs,
      nobodyOf(outcome.kind),
    ),
    ...(Object.keys(figures).length > 0 && { figures }),
  };
}

/**
 * @param risks out-of-fold risks of the development patients
 * @param folds fold of each
 */
export function crossValidated(
  risks: Float64Array,
  events: ArrayLike<number>,
  folds: ArrayLike<number>,
  rule: CutoffRule,
  costs: AllErrorCosts,
  nobody = nobodyCutoff,
): CrossValidated {
  const ranked = rankRisks(risks, events, nobody, costs.own);
  const cutoff = chooseCutoff(rule, ranked, costs);
  const table = errorTable(ranked, cutoff);
  return {
    cutoff,
    table,
    costPerThousand: costPerThousand(ranked, cutoff, costs),
    area: areaByFold(risks, events, folds),
  };
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
