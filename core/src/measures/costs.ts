import { countCalled, type PatientCosts, type RankedRisks } from './ranked.ts';

/** What each kind of error costs, in the study's own unit. */
export interface ErrorCosts {
  missedCost: number;
  falseAlarmCost: number;
}

/** The same, each patient's own where there are such, and of several levels what giving a level costs. */
export interface AllErrorCosts extends ErrorCosts {
  own?: PatientCosts;
  /** True level in rows; absent where every error costs the same. */
  levelCosts?: number[][];
}

/** What the errors of these patients cost in sum. */
export interface ErrorSums {
  missed: number;
  falseAlarms: number;
}

/** What missed cases and false alarms cost at a cutoff: by each patient's own costs where there are such. */
export const errorSums = (ranked: RankedRisks, cutoff: number, costs: ErrorCosts): ErrorSums =>
  sumsOf(ranked, countCalled(ranked, cutoff), costs);

/** What the call of one patient costs at a cutoff. @param event 1 where the patient is a case */
export const costOfCall = (
  score: number,
  event: number,
  cutoff: number,
  { missedCost, falseAlarmCost }: ErrorCosts,
): number =>
  event === 1 ? (score < cutoff ? missedCost : 0) : score >= cutoff ? falseAlarmCost : 0;

/** Expected cost of the errors per 1,000 patients like these. */
export function costPerThousand(ranked: RankedRisks, cutoff: number, costs: ErrorCosts): number {
  return perThousand(ranked, errorSums(ranked, cutoff, costs));
}

/** Cost per 1,000 of the cheaper of calling everybody in and calling nobody: what no model can be excused from beating. */
export function referenceCost(ranked: RankedRisks, costs: ErrorCosts): number {
  const [nobody, everybody] = [0, ranked.risks.length].map((called) =>
    perThousand(ranked, sumsOf(ranked, called, costs)),
  );
  return Math.min(nobody, everybody);
}

/** @param called so many are called in, the highest risks first */
function sumsOf(
  { own, events, eventsAbove, times }: RankedRisks,
  called: number,
  costs: ErrorCosts,
) {
  if (own)
    return {
      missed: own.missed[own.missed.length - 1] - own.missed[called],
      falseAlarms: own.falseAlarms[called],
    };
  const found = eventsAbove[called] / times;
  return {
    missed: (events - found) * costs.missedCost,
    falseAlarms: (called / times - found) * costs.falseAlarmCost,
  };
}

const perThousand = ({ patients }: RankedRisks, { missed, falseAlarms }: ErrorSums) =>
  patients === 0 ? 0 : (1000 * (missed + falseAlarms)) / patients;

/** Cutoff that is cheapest for a perfectly calibrated model. Elkan (2001), IJCAI 17:973-978. */
export function calibratedCutoff({ missedCost, falseAlarmCost }: ErrorCosts): number {
  return falseAlarmCost / (falseAlarmCost + missedCost);
}

export interface CostPoint {
  cutoff: number;
  cost: number;
}

/** Cost per 1,000 if so many predictions call in, the highest first. */
export const costOfCalling = (ranked: RankedRisks, called: number, costs: ErrorCosts): number =>
  perThousand(ranked, sumsOf(ranked, called, costs));

/** Cost per 1,000 at every distinct risk and at "nobody" (a cutoff just above 1), cutoff ascending. */
export function costCurve(ranked: RankedRisks, costs: ErrorCosts): CostPoint[] {
  const { risks, nobody } = ranked;
  const at = (called: number) => costOfCalling(ranked, called, costs);
  const points: CostPoint[] = [];
  for (let i = risks.length; i > 0; i--)
    if (i === risks.length || risks[i] !== risks[i - 1])
      points.push({ cutoff: risks[i - 1], cost: at(i) });
  points.push({ cutoff: nobody, cost: at(0) });
  return points;
}
