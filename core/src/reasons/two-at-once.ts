import type { RegionsShown } from '../families/index.ts';
import { symmetricEigen } from '../numeric/index.ts';
import { numbersOf, type Predictions } from '../outcome/index.ts';
import type { PredictorColumn } from '../preparation/index.ts';
import { regionMap } from '../tuning/index.ts';
import { columnNamed, everyFew, rowCountOf, takenRows, valuesOf, withValues } from './ask.ts';

/** What a model says of patients, whatever kind that is. */
export type Predict = (columns: PredictorColumn[], rowCount: number) => Predictions;

/** Patients over whom means are taken, and cells across and up. */
const averaged = 40;
const cells: [number, number] = [30, 20];

/**
 * What is said over two predictors, on average of patients were all of them there: their common partial dependence
 * (Friedman 2001, Annals of Statistics 29:1189-1232).
 *
 * @param columns of the development patients
 * @returns undefined where one of the two does not vary
 */
export function overTwo(
  predict: Predict,
  columns: PredictorColumn[],
  [one, other]: [string, string],
): RegionsShown | undefined {
  const rowCount = rowCountOf(columns);
  const some = everyFew(rowCount, averaged);
  const rest = columns.map((column) => takenRows(column, some));
  const rows = Int32Array.from({ length: rowCount }, (_, i) => i);
  const pair = [columnNamed(columns, one), columnNamed(columns, other)];
  return regionMap(
    pair,
    rows,
    (two, count) => {
      const places = Int32Array.from({ length: count * some.length }, (_, i) => i % some.length);
      const cell = Int32Array.from(places, (_, i) => Math.floor(i / some.length));
      const asked = rest.map((column) => {
        const own = two.find(({ name }) => name === column.name);
        return own ? takenRows(own, cell) : takenRows(column, places);
      });
      return meansOf(predict(asked, places.length), some.length);
    },
    cells,
  );
}

/** A direction in which patients differ, as predictors go together along it. */
export interface Direction {
  /** Of all that predictors vary, in SDs. */
  share: number;
  /** By predictor, those with a part in it; the greatest first. */
  parts: { name: string; weight: number }[];
}

export interface OverDirections {
  directions: Direction[];
  map: RegionsShown;
}

/** Patients from nearby who are moved to a cell. */
const nearby = 8;

/**
 * What is said over the first two principal components of the numbers. To each cell those patients are moved who are
 * nearest to it, along both components alone: all else is as they have it.
 *
 * @param names of the two axes
 * @returns undefined with fewer than two numbers that vary
 */
export function overDirections(
  predict: Predict,
  columns: PredictorColumn[],
  names: [string, string],
): OverDirections | undefined {
  const numbers = columns.flatMap((column, place) => {
    const scaled = column.type === 'number' ? scaledOf(column.values) : undefined;
    return scaled ? [{ place, ...scaled }] : [];
  });
  if (numbers.length < 2) return undefined;
  const rowCount = rowCountOf(columns);
  const { values, vectors } = symmetricEigen(correlationsOf(numbers), numbers.length);
  const size = numbers.length;
  const weights = vectors.slice(0, 2).map(upright);
  const at = weights.map((own) => {
    const scores = new Float64Array(rowCount);
    numbers.forEach(({ z }, j) => {
      for (let i = 0; i < rowCount; i++) scores[i] += own[j] * z[i];
    });
    return scores;
  });
  const axes = at.map((own, k): PredictorColumn => ({
    ...{ name: names[k], type: 'number' },
    values: own,
  }));
  const rows = Int32Array.from({ length: rowCount }, (_, i) => i);
  const map = regionMap(
    axes,
    rows,
    (two, count) => {
      const to = two.map((column) => valuesOf(column));
      const many = Math.min(nearby, rowCount);
      const near = Array.from({ length: count }, (_, cell) =>
        nearest(at, [to[0][cell], to[1][cell]], many),
      ).flat();
      const places = Int32Array.from(near);
      const asked = columns.map((column) => takenRows(column, places));
      numbers.forEach(({ place, deviation }, j) => {
        const own = valuesOf(asked[place]);
        asked[place] = withValues(
          asked[place],
          Float64Array.from(places, (row, i) => {
            const cell = Math.floor(i / many);
            const move = [0, 1].reduce(
              (sum, k) => sum + weights[k][j] * (to[k][cell] - at[k][row]),
              0,
            );
            return own[i] + deviation * move;
          }),
        );
      });
      return meansOf(predict(asked, places.length), many);
    },
    cells,
  );
  if (!map) return undefined;
  const directions = weights.map((own, k): Direction => ({
    share: values[k] / size,
    parts: numbers
      .map(({ place }, j) => ({ name: columns[place].name, weight: own[j] }))
      .filter(({ weight }) => Math.abs(weight) > 1e-9)
      .sort((a, b) => Math.abs(b.weight) - Math.abs(a.weight)),
  }));
  return { directions, map };
}

/** In SDs from the mean, which stands for what is not known; undefined where it does not vary. */
function scaledOf(values: Float64Array): { z: Float64Array; deviation: number } | undefined {
  let [sum, count] = [0, 0];
  for (const value of values) if (!Number.isNaN(value)) [sum, count] = [sum + value, count + 1];
  if (count < 2) return undefined;
  const mean = sum / count;
  let squares = 0;
  for (const value of values) if (!Number.isNaN(value)) squares += (value - mean) ** 2;
  const deviation = Math.sqrt(squares / count);
  // Rounding is no variation.
  if (!(deviation > 1e-12 * Math.abs(mean))) return undefined;
  return {
    deviation,
    z: values.map((value) => (Number.isNaN(value) ? 0 : (value - mean) / deviation)),
  };
}

function correlationsOf(numbers: { z: Float64Array }[]): Float64Array {
  const size = numbers.length;
  const all = new Float64Array(size * size);
  const spreads = numbers.map(({ z }) => Math.sqrt(z.reduce((sum, one) => sum + one * one, 0)));
  for (let a = 0; a < size; a++)
    for (let b = 0; b <= a; b++) {
      let sum = 0;
      const [one, other] = [numbers[a].z, numbers[b].z];
      for (let i = 0; i < one.length; i++) sum += one[i] * other[i];
      all[a * size + b] = all[b * size + a] = sum / (spreads[a] * spreads[b]);
    }
  return all;
}

/** The same direction, its greatest part above 0. */
function upright(weights: Float64Array): Float64Array {
  const most = weights.reduce((best, one) => (Math.abs(one) > Math.abs(best) ? one : best), 0);
  return most < 0 ? weights.map((one) => -one) : weights;
}

/** The rows that stand nearest to a place. */
function nearest(at: Float64Array[], [x, y]: [number, number], count: number): number[] {
  const rows: number[] = [];
  const apart: number[] = [];
  for (let row = 0; row < at[0].length; row++) {
    const distance = (at[0][row] - x) ** 2 + (at[1][row] - y) ** 2;
    if (rows.length === count && distance >= apart[count - 1]) continue;
    let place = rows.length < count ? rows.length : count - 1;
    while (place > 0 && apart[place - 1] > distance) {
      rows[place] = rows[place - 1];
      apart[place] = apart[place - 1];
      place--;
    }
    rows[place] = row;
    apart[place] = distance;
  }
  return rows;
}

/** Of so many patients in turn each, their mean. */
function meansOf(predictions: Predictions, each: number): Predictions {
  const said = numbersOf(predictions);
  const width = predictions.kind === 'levels' ? predictions.levels.length : 1;
  const means = new Float64Array(said.length / each);
  for (let i = 0; i < said.length; i++)
    means[Math.floor(i / (width * each)) * width + (i % width)] += said[i] / each;
  if (predictions.kind === 'event') return { kind: 'event', risks: means };
  if (predictions.kind === 'number') return { kind: 'number', values: means };
  return { ...predictions, shares: means };
}
