import type { ErrorTable } from './error-table.ts';
import type { RankedRisks } from './ranked.ts';

/** What each kind of error costs, in the study's own unit. */
export interface ErrorCosts {
  missedCost: number;
  falseAlarmCost: number;
}

/** The same, and of several levels what giving a level costs. */
export interface AllErrorCosts extends ErrorCosts {
  /** True level in rows; absent where every error costs the same. */
  levelCosts?: number[][];
}

/** Expected cost of the errors per 1,000 patients like these. */
export function costPerThousand(table: ErrorTable, costs: ErrorCosts): number {
  const { found, missed, falseAlarms, rightlyLeft } = table;
  const patients = found + missed + falseAlarms + rightlyLeft;
  const cost = missed * costs.missedCost + falseAlarms * costs.falseAlarmCost;
  return patients === 0 ? 0 : (1000 * cost) / patients;
}

/** Cost per 1,000 of the cheaper of calling everybody in and calling nobody: what no model can be excused from beating. */
export function referenceCost(patients: number, events: number, costs: ErrorCosts): number {
  if (patients === 0) return 0;
  const nobody = events * costs.missedCost;
  const everybody = (patients - events) * costs.falseAlarmCost;
  return (1000 * Math.min(nobody, everybody)) / patients;
}

/** Cutoff that is cheapest for a perfectly calibrated model. Elkan (2001), IJCAI 17:973-978. */
export function calibratedCutoff({ missedCost, falseAlarmCost }: ErrorCosts): number {
  return falseAlarmCost / (falseAlarmCost + missedCost);
}

export interface CostPoint {
  cutoff: number;
  cost: number;
}

/** Cost per 1,000 at every distinct risk and at "nobody" (a cutoff just above 1), cutoff ascending. */
export function costCurve(ranked: RankedRisks, costs: ErrorCosts): CostPoint[] {
  const { patients, events, risks, nobody, eventsAbove } = ranked;
  const at = (called: number) => {
    const found = eventsAbove[called];
    const falseAlarms = called - found;
    const cost = (events - found) * costs.missedCost + falseAlarms * costs.falseAlarmCost;
    return (1000 * cost) / patients;
  };
  const points: CostPoint[] = [];
  for (let i = patients; i > 0; i--)
    if (i === patients || risks[i] !== risks[i - 1])
      points.push({ cutoff: risks[i - 1], cost: at(i) });
  points.push({ cutoff: nobody, cost: at(0) });
  return points;
}
