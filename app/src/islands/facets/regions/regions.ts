import type { MapAxis, RegionsShown } from '@rook-scale/core/families';
import { caseScores, type CaseRule, type Predictions } from '@rook-scale/core/outcome';

/** How much each cell is taken for a case. */
export function scoresOf({ predicted }: RegionsShown, cases: CaseRule): Float64Array {
  const values = Float64Array.from(predicted.values);
  const kinds: { [K in Predictions['kind']]: () => Predictions } = {
    event: () => ({ kind: 'event', risks: values }),
    levels: () => ({ kind: 'levels', levels: predicted.levels ?? [], shares: values }),
    number: () => ({ kind: 'number', values }),
  };
  return caseScores(kinds[predicted.kind](), cases);
}

/** Steps of shading. */
export const shades = 7;

/** Ends of the scores' range, in which the shades are parted evenly. */
export function rangeOf(scores: Float64Array): [number, number] {
  let [least, most] = [Infinity, -Infinity];
  for (const score of scores) {
    least = Math.min(least, score);
    most = Math.max(most, score);
  }
  return [least, most];
}

/** The shade of a score, from 0. */
export function shadeOf(score: number, [least, most]: [number, number]): number {
  if (!(most > least)) return 0;
  return Math.min(shades - 1, Math.floor((shades * (score - least)) / (most - least)));
}

/**
 * Patients of whole numbers and of levels stand beside one another instead of on each other: aside of the
 * middle by less than half a step, the same each time.
 */
export function spreadOut(at: number[], axis: MapAxis): number[] {
  if (!('levels' in axis) && !at.every(Number.isInteger)) return at;
  const step = 'levels' in axis ? 1 : Math.min(1, (axis.to - axis.from) / 20);
  return at.map((value, i) => value + 0.7 * step * (fraction(0.6180339887 * (i + 1)) - 0.5));
}

const fraction = (value: number) => value - Math.floor(value);
