import { quantile } from '../numeric/index.ts';
import type { PredictorColumn } from '../preparation/index.ts';
import {
  columnNamed,
  rowCountOf,
  takenRows,
  withValues,
  type Ask,
  type AskAltered,
} from './ask.ts';

/** An effect that is summed up from step to step. */
export interface Accumulated {
  /** Edges of the intervals, rising. */
  edges: number[];
  /** At each edge, around 0 over the patients. */
  effects: number[];
  /** Patients in each interval, from edge to edge. */
  patients: number[];
}

/**
 * The accumulated local effect of a number: within each interval only patients who are in it are moved from its
 * one edge to the other, so that nobody is given values that do not go together (Apley & Zhu 2020, Journal of the
 * Royal Statistical Society B 82:1059-1086).
 *
 * @param steps intervals asked for, between quantiles (type 7); where values repeat there are fewer
 * @returns undefined where fewer than two different values are known
 */
export function accumulatedEffect(
  ask: Ask,
  columns: PredictorColumn[],
  name: string,
  steps: number,
  askAltered?: AskAltered,
): Accumulated | undefined {
  const column = columnNamed(columns, name);
  if (column.type !== 'number') throw new Error('Only along a number can effects be summed up.');
  const { values } = column;
  const known = Int32Array.from({ length: rowCountOf(columns) }, (_, i) => i).filter(
    (i) => !Number.isNaN(values[i]),
  );
  const own = Float64Array.from(known, (i) => values[i]).sort();
  const edges = [...new Set(Array.from({ length: steps + 1 }, (_, k) => quantile(own, k / steps)))];
  if (edges.length < 2) return undefined;
  const intervals = edges.length - 1;
  const places = Int32Array.from(known, (i) => intervalOf(edges, values[i]));
  const there = columns.map((one) => takenRows(one, known));
  const [lower, upper] = ([0, 1] as const).map((to) =>
    there.map((one) =>
      one.name === name
        ? withValues(
            one,
            Array.from(places, (k) => edges[k + to]),
          )
        : one,
    ),
  );
  const askBoth: AskAltered =
    askAltered ?? ((_, both) => both.map((own) => ask(own, known.length)));
  const [below, above] = askBoth(there, [lower, upper], known.length);
  const sums = new Float64Array(intervals);
  const patients = Array<number>(intervals).fill(0);
  places.forEach((k, i) => {
    sums[k] += above[i] - below[i];
    patients[k]++;
  });
  const effects = [0];
  for (let k = 0; k < intervals; k++)
    effects.push(effects[k] + (patients[k] > 0 ? sums[k] / patients[k] : 0));
  const middle =
    patients.reduce((sum, count, k) => sum + (count * (effects[k] + effects[k + 1])) / 2, 0) /
    known.length;
  return { edges, effects: effects.map((effect) => effect - middle), patients };
}

/** Intervals are closed on the right, the first one on the left too. */
function intervalOf(edges: number[], value: number): number {
  let [low, high] = [0, edges.length - 1];
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (value > edges[middle]) low = middle;
    else high = middle;
  }
  return low;
}
