import {
  areaUnderCurve,
  calibrationGroups,
  costCurve,
  precisionRecall,
  rankRisks,
  riskDensity,
  rocPoints,
  thin,
  type Area,
  type AllErrorCosts,
  type CalibrationGroup,
  type RiskDensity,
} from '../measures/index.ts';

type Place = [x: number, y: number];

/** What a classifier is drawn by, beside others: as many points as can be told apart. */
export interface Curves {
  /** Share of others called in, share of cases called in. */
  roc: Place[];
  /** Share of cases called in, share of cases among those called in. */
  precision: Place[];
  /** Cutoff, cost per 1,000; empty where that is counted from level to level. */
  cost: Place[];
  /** The least that any cutoff costs; absent with the curve. */
  leastCost?: number;
  /** Where scores are risks or shares. */
  calibration?: CalibrationGroup[];
  density: RiskDensity;
  area?: Area;
  averagePrecision?: number;
  /** Share of cases: precision without knowledge. */
  share: number;
}

export interface CurvesTask {
  /** One a prediction; of patients predicted several times those of each time in turn. */
  scores: Float64Array;
  /** 1 where the patient is a case. */
  events: Uint8Array;
  times: number;
  costs: AllErrorCosts;
  /** A cutoff that nobody reaches. */
  nobody: number;
  /** Scores are risks or shares; else they lie between these. */
  isShare: boolean;
  from: number;
  to: number;
}

/** The curves of one classifier. */
export function curvesOf(task: CurvesTask): Curves {
  const { scores, events, times, costs, nobody, isShare, from, to } = task;
  const ranked = rankRisks(scores, events, nobody, costs.own, times);
  const onScale = (score: number) => (score - from) / (to - from);
  const spent = (costs.levelCosts ? [] : costCurve(ranked, costs)).map(
    ({ cutoff, cost }): Place => [
      // Nobody is called in just beyond the scale.
      Math.min(cutoff, to),
      cost,
    ],
  );
  const [least, most] = spent.reduce(
    ([least, most], [, cost]) => [Math.min(least, cost), Math.max(most, cost)],
    [Infinity, 1e-12],
  );
  const precise = precisionRecall(ranked);
  const upright = (places: Place[]) => thin(places, (place) => place);
  return {
    roc: upright(
      rocPoints(ranked).map(({ falseAlarmShare, sensitivity }) => [falseAlarmShare, sensitivity]),
    ),
    precision: upright(
      (precise?.points ?? []).map(({ sensitivity, precision }) => [sensitivity, precision]),
    ),
    cost: thin(spent, ([cutoff, cost]) => [onScale(cutoff), cost / most]),
    ...(spent.length > 0 && { leastCost: least }),
    ...(isShare && { calibration: calibrationGroups(ranked) }),
    density: riskDensity(scores, events, { from, to }),
    area: areaUnderCurve(scores, events),
    ...(precise && { averagePrecision: precise.average }),
    share: ranked.patients > 0 ? ranked.events / ranked.patients : 0,
  };
}
