import type { DiscriminantsShown } from '../facets.ts';
import { bordersOf, placesOf, type Grid } from './borders.ts';
import type { Moments } from './clouds.ts';
import type { Direction } from './directions.ts';

/** Patients that are drawn at most. */
const mostDrawn = 400;
const side = 61;

interface Mapped {
  /** The first two. */
  directions: Direction[];
  /** Of all patients along each of them. */
  scores: Float64Array[];
  codes: ArrayLike<number>;
  /** An order of patients that does not depend on that of the table. */
  order: Int32Array;
  moments: Moments;
  /** How likely each level is at places, up to a constant of each: by place and level, logarithms. */
  logsAt: (columns: Float64Array[], count: number) => Float64Array;
}

/**
 * Patients along the first two directions, and where two levels are as likely there: at a place, inputs are
 * what they are on average for those whose scores these are.
 */
export function cloudMap({
  directions,
  scores,
  codes,
  order,
  moments,
  logsAt,
}: Mapped): DiscriminantsShown['map'] {
  const [across, up] = scores.map(reachOf);
  const grid: Grid = { across, up, side };
  const { x, y } = placesOf(grid);
  const columns = inputsAt([x, y], directions, moments);
  const drawn = [...order.subarray(0, mostDrawn)];
  return {
    across,
    up,
    patients: drawn.map((row) => ({
      at: [short(scores[0][row]), short(scores[1][row])],
      level: codes[row],
    })),
    borders: bordersOf(grid, logsAt(columns, x.length), moments.means.length).map(
      ([a, b, c, d]) => [short(a), short(b), short(c), short(d)],
    ),
  };
}

const short = (value: number): number => Number(value.toFixed(4));

/** A little more than from the least score to the greatest. */
function reachOf(scores: Float64Array): [number, number] {
  let [least, greatest] = [Infinity, -Infinity];
  for (const score of scores) {
    least = Math.min(least, score);
    greatest = Math.max(greatest, score);
  }
  const room = Math.max(0.5, 0.04 * (greatest - least));
  return [least - room, greatest + room];
}

/** What inputs are on average, by the covariance within levels, of those who have these scores. */
function inputsAt(
  places: Float64Array[],
  directions: Direction[],
  { totals, means, within }: Moments,
): Float64Array[] {
  const size = means[0].length;
  const all = totals.reduce((sum, one) => sum + one, 0);
  const middle = means[0].map((_, j) =>
    means.reduce((sum, mean, level) => sum + (totals[level] / all) * mean[j], 0),
  );
  const spreads = directions.map(({ weights }) =>
    middle.map((_, j) => weights.reduce((sum, one, k) => sum + within[j * size + k] * one, 0)),
  );
  const centres = directions.map(({ weights }) =>
    weights.reduce((sum, one, j) => sum + one * middle[j], 0),
  );
  return Array.from(middle, (mean, j) =>
    places[0].map((_, i) =>
      places.reduce((sum, scores, k) => sum + spreads[k][j] * (scores[i] - centres[k]), mean),
    ),
  );
}
