import type { PredictorColumn } from '../preparation/index.ts';
import {
  columnNamed,
  rowCountOf,
  takenRows,
  valuesOf,
  withValues,
  type Ask,
  type AskAltered,
  type Value,
} from './ask.ts';

/** Rows that a model is asked about at once: more would only take memory. */
const askedAtOnce = 200_000;

/**
 * What the model says of each patient if only these predictors had other values: Friedman (2001), Annals of
 * Statistics 29:1189-1232; each patient's own: Goldstein et al. (2015), Journal of Computational and Graphical
 * Statistics 24:44-65.
 *
 * @param points each with a value for every one of `names`
 * @param askAltered where a model can be asked about several alternatives faster than about all their patients
 * @returns points × patients, row-major; the mean of a row is the partial dependence there
 */
export function saidWith(
  ask: Ask,
  columns: PredictorColumn[],
  names: string[],
  points: Value[][],
  askAltered?: AskAltered,
): Float64Array {
  const rowCount = rowCountOf(columns);
  const said = new Float64Array(points.length * rowCount);
  if (askAltered) {
    const alternatives = points.map((point) =>
      columns.map((column) => {
        const k = names.indexOf(column.name);
        return k < 0 ? column : withValues(column, new Float64Array(rowCount).fill(point[k]));
      }),
    );
    askAltered(columns, alternatives, rowCount).forEach((own, k) => said.set(own, k * rowCount));
    return said;
  }
  const atOnce = Math.max(1, Math.floor(askedAtOnce / Math.max(1, rowCount)));
  for (let from = 0; from < points.length; from += atOnce) {
    const some = points.slice(from, from + atOnce);
    const places = Int32Array.from({ length: some.length * rowCount }, (_, i) => i % rowCount);
    const asked = columns.map((column) => {
      const k = names.indexOf(column.name);
      if (k < 0) return takenRows(column, places);
      return withValues(
        column,
        Array.from(places, (_, i) => some[Math.floor(i / rowCount)][k]),
      );
    });
    said.set(ask(asked, places.length), from * rowCount);
  }
  return said;
}

/** Mean over all patients at each point: see `saidWith`. */
export function partialDependence(
  ask: Ask,
  columns: PredictorColumn[],
  names: string[],
  points: Value[][],
): number[] {
  const rowCount = rowCountOf(columns);
  const said = saidWith(ask, columns, names, points);
  return points.map((_, k) => meanOf(said.subarray(k * rowCount, (k + 1) * rowCount)));
}

/**
 * How strongly predictors act together, 0 where they do not: the share of the spread of their common partial dependence that
 * is not the sum of those of each (H, which can exceed 1: Friedman & Popescu 2008, Annals of Applied Statistics 2:916-954).
 *
 * @returns H, not squared; undefined where their common partial dependence does not vary
 */
export function interaction(
  ask: Ask,
  columns: PredictorColumn[],
  [one, other]: [string, string],
): number | undefined {
  const at = (names: string[]) => {
    const values = names.map((name) => valuesOf(columnNamed(columns, name)));
    const points = Array.from({ length: rowCountOf(columns) }, (_, i) =>
      values.map((own) => own[i]),
    );
    // The same values are asked about once.
    const keys = points.map((point) => point.join(' '));
    const different = [...new Map(points.map((point, i) => [keys[i], point])).entries()];
    const found = partialDependence(
      ask,
      columns,
      names,
      different.map(([, point]) => point),
    );
    const byKey = new Map(different.map(([key], k) => [key, found[k]]));
    const all = keys.map((key) => byKey.get(key)!);
    const mean = meanOf(all);
    return all.map((value) => value - mean);
  };
  const [together, first, second] = [at([one, other]), at([one]), at([other])];
  const spread = together.reduce((sum, value) => sum + value ** 2, 0);
  const rest = together.reduce((sum, value, i) => sum + (value - first[i] - second[i]) ** 2, 0);
  // Rounding is no spread.
  return spread > 1e-18 * together.length ? Math.sqrt(rest / spread) : undefined;
}

export const meanOf = (values: ArrayLike<number>): number => {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i];
  return sum / values.length;
};
