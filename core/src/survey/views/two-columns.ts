import { gradesOf } from '../../numeric/index.ts';
import {
  associate,
  chiSquareTest,
  correlateGrades,
  correlationInterval,
  correlationP,
  crossTable,
  localRegression,
  makeReady,
  rankCorrelateGrades,
  type Association,
  type ChiSquareTest,
  type Measured,
} from '../associate/index.ts';

/** What two numbers have in common. */
export interface TwoNumbers {
  patients: number;
  pearson: CorrelationWithInterval;
  spearman: CorrelationWithInterval;
  /** A smooth line of the second along the first. */
  line: { x: number; y: number }[];
}

export interface CorrelationWithInterval {
  value: number;
  interval?: [number, number];
  p: number;
}

/** @param x, y NaN where not known */
export function viewTwoNumbers(x: Float64Array, y: Float64Array, span = 0.5): TwoNumbers {
  const [a, b] = [gradesOf(x), gradesOf(y)];
  const pearson = correlateGrades(a, b);
  const spearman = rankCorrelateGrades(a, b);
  const full = ({ value, patients }: { value: number; patients: number }, ofRanks: boolean) => ({
    value,
    interval: correlationInterval(value, patients, ofRanks),
    p: correlationP(value, patients),
  });
  const [fewX, fewY] = thinned(x, y);
  return {
    patients: pearson.patients,
    pearson: full(pearson, false),
    spearman: full(spearman, true),
    line: localRegression(fewX, fewY, span),
  };
}

/** Patients that a smooth line is drawn from at most: more would not move it by a pixel. */
const lineFrom = 20_000;

function thinned(x: Float64Array, y: Float64Array): [Float64Array, Float64Array] {
  const step = Math.ceil(x.length / lineFrom);
  if (step <= 1) return [x, y];
  const every = (values: Float64Array) => values.filter((_, i) => i % step === 0);
  return [every(x), every(y)];
}

/** What two columns with levels have in common. */
export interface TwoCategories {
  counts: number[][];
  patients: number;
  test?: ChiSquareTest;
}

export function viewTwoCategories(
  a: { codes: ArrayLike<number>; levels: number },
  b: { codes: ArrayLike<number>; levels: number },
): TwoCategories {
  const table = crossTable(a.codes, a.levels, b.codes, b.levels);
  return { ...table, test: chiSquareTest(table.counts) };
}

/** The association of two columns, with its interval where there is one. */
export interface PairView extends Association {
  interval?: [number, number];
}

/** Every two of a handful of columns: `pairs[i][j]` for j < i, null where it cannot be said. */
export function viewPairs(columns: Measured[]): (PairView | null)[][] {
  const ready = columns.map(makeReady);
  return ready.map((mine, i) =>
    ready.slice(0, i).map((other) => {
      const found = associate(mine, other, true);
      if (!found || Number.isNaN(found.value)) return null;
      const { measure, value, patients } = found;
      const signed = measure !== 'Cramér’s V' && measure !== 'correlation ratio';
      const ofRanks = measure === 'Spearman';
      return {
        ...found,
        interval: signed ? correlationInterval(value, patients, ofRanks) : undefined,
      };
    }),
  );
}

/** The association of two columns by itself. */
export function associateOnce(a: Measured, b: Measured, ranked: boolean): Association | undefined {
  return associate(makeReady(a), makeReady(b), ranked);
}
