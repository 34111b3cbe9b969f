import { pairedAreas } from '../comparing/index.ts';
import { areaUnderCurve } from '../measures/index.ts';
import { z95 } from '../numeric/index.ts';
import { meanOf } from './partial-dependence.ts';
import type { Moved, Permuted } from './permuted.ts';

export const worthMeasures = ['cost', 'area', 'squared error'] as const;
export type WorthMeasure = (typeof worthMeasures)[number];

/** What happened to the patients, and what errors in them cost. */
export interface Happened {
  /** 1 where the patient is a case. */
  events: ArrayLike<number>;
  /** Scores from here on are called in. */
  cutoff: number;
  /** Of each patient; absent where costs are counted from level to level. */
  costs?: { missed: ArrayLike<number>; falseAlarm: ArrayLike<number> };
  /** What the score should have been: 0 or 1, or the number. */
  truth: ArrayLike<number>;
}

/** How much worse it gets without what one group of predictors knows. */
export interface Worth {
  name: string;
  columns: string[];
  /** Loss gained, in the unit of the measure; of the area, how much is lost. */
  value: number;
  /** 95%; absent where it does not vary. */
  interval?: [number, number];
}

export interface Worths {
  measure: WorthMeasure;
  /** As the patients are. */
  plain: number;
  groups: Worth[];
}

/** What every group of predictors is worth by every measure that can be told, in the order they were given. */
export function worthsOf(permuted: Permuted, groups: Moved[], happened: Happened): Worths[] {
  const { plain, moved } = permuted;
  return worthMeasures.flatMap((measure): Worths[] => {
    if (measure === 'area') {
      const area = areaUnderCurve(plain, happened.events);
      return area
        ? [
            {
              ...{ measure, plain: area.value },
              groups: groups.map((group, k) => ({
                ...group,
                ...ofAreas(plain, moved[k], happened),
              })),
            },
          ]
        : [];
    }
    const lossOf = losses[measure](happened);
    if (!lossOf) return [];
    const before = plain.map((score, i) => lossOf(i, score));
    return [
      {
        ...{ measure, plain: meanOf(before) },
        groups: groups.map((group, k) => ({ ...group, ...gained(before, moved[k], lossOf) })),
      },
    ];
  });
}

type LossOf = (i: number, score: number) => number;

const losses: {
  [M in Exclude<WorthMeasure, 'area'>]: (happened: Happened) => LossOf | undefined;
} = {
  cost: ({ events, cutoff, costs }) =>
    costs &&
    ((i, score) =>
      1000 *
      (events[i] === 1
        ? score >= cutoff
          ? 0
          : costs.missed[i]
        : score >= cutoff
          ? costs.falseAlarm[i]
          : 0)),
  'squared error':
    ({ truth }) =>
    (i, score) =>
      (score - truth[i]) ** 2,
};

/** Mean over patients of what is lost more, each patient's own mean over the times. */
function gained(before: Float64Array, moved: Float64Array[], lossOf: LossOf) {
  const own = before.map((loss, i) => meanOf(moved.map((scores) => lossOf(i, scores[i]))) - loss);
  const value = meanOf(own);
  const { length } = own;
  const variance = own.reduce((sum, one) => sum + (one - value) ** 2, 0) / Math.max(1, length - 1);
  return around(value, Math.sqrt(variance / length));
}

/** Area lost, after DeLong; intervals are means over the times. */
function ofAreas(plain: Float64Array, moved: Float64Array[], { events }: Happened) {
  const found = moved.map((scores) => pairedAreas(events, plain, scores));
  return around(
    meanOf(found.map((one) => one?.difference ?? 0)),
    Math.sqrt(meanOf(found.map((one) => (one?.standardError ?? 0) ** 2))),
  );
}

const around = (value: number, error: number) => ({
  value,
  ...(error > 0 && { interval: [value - z95 * error, value + z95 * error] as [number, number] }),
});
