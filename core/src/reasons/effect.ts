import { sortedQuantile, z95 } from '../numeric/index.ts';
import { rate } from '../measures/index.ts';
import type { PredictorColumn } from '../preparation/index.ts';
import { accumulatedEffect } from './accumulated.ts';
import {
  columnNamed,
  everyFew,
  isKnown,
  rowCountOf,
  takenRows,
  valuesOf,
  type Ask,
  type AskAltered,
} from './ask.ts';
import { meanOf, saidWith } from './partial-dependence.ts';

/** Patients whose value is alike, and what happened to them. */
export interface Band {
  /** Of a number: least and greatest. */
  from?: number;
  to?: number;
  level?: string;
  patients: number;
  /** Share of cases, or mean number; absent where nobody is there. */
  observed?: number;
  /** 95%. */
  interval?: [number, number];
  /** Mean of what is said of them as they are. */
  said?: number;
}

/** How what is said moves along one predictor. */
export interface EffectShown {
  name: string;
  /** Places along a number, or of levels 0, 1 …. */
  at: number[];
  levels?: string[];
  /** Mean of what is said, were all patients there. */
  mean: number[];
  /** Of some patients, each their own: by patient, at each place. */
  curves: number[][];
  /** Of numbers: the same summed up over neighbours alone, around the mean of all. */
  accumulated?: { at: number[]; said: number[] };
  bands: Band[];
  patients: number;
  /** Patients whose value is not known. */
  unknown: number;
  /** Patients over whom means are taken. */
  averaged: number;
}

/**
 * Patients over whom means are taken, who are moved among their neighbours, whose own curves are kept, and places
 * along a number; at most.
 */
const atMost = { averaged: 200, near: 600, curves: 30, places: 26, intervals: 20, bands: 8 };

/**
 * The effect of a predictor: see `saidWith` and `accumulatedEffect`.
 *
 * @param columns of the development patients
 * @param truth of each 0 or 1, or the number
 * @param isShare whether what is said and happened are shares of cases
 */
export function effectOf(
  ask: Ask,
  columns: PredictorColumn[],
  name: string,
  truth: ArrayLike<number>,
  isShare: boolean,
  askAltered?: AskAltered,
): EffectShown {
  const column = columnNamed(columns, name);
  const rowCount = rowCountOf(columns);
  const values = valuesOf(column);
  const known = Int32Array.from({ length: rowCount }, (_, i) => i).filter((i) =>
    isKnown(column, values[i]),
  );
  const some = everyFew(rowCount, atMost.averaged);
  const averaged = columns.map((one) => takenRows(one, some));
  const near = columns.map((one) => takenRows(one, everyFew(rowCount, atMost.near)));
  const at =
    column.type === 'number'
      ? placesAlong(Float64Array.from(known, (i) => column.values[i]))
      : column.levels.flatMap((_, code) => (known.some((i) => values[i] === code) ? [code] : []));
  const said = saidWith(
    ask,
    averaged,
    [name],
    at.map((place) => [place]),
    askAltered,
  );
  const each = some.length;
  const drawn = everyFew(each, atMost.curves);
  const own = ask(columns, rowCount);
  const accumulated =
    column.type === 'number' && at.length > 1
      ? accumulatedEffect(ask, near, name, atMost.intervals, askAltered)
      : undefined;
  const middle = meanOf(own);
  return {
    name,
    at,
    ...(column.type === 'coded' && { levels: column.levels }),
    mean: at.map((_, k) => meanOf(said.subarray(k * each, (k + 1) * each))),
    curves: Array.from(drawn, (i) => at.map((_, k) => said[k * each + i])),
    ...(accumulated && {
      accumulated: {
        at: accumulated.edges,
        said: accumulated.effects.map((effect) => effect + middle),
      },
    }),
    bands: bandsOf(column, known).map((band) => ({
      ...band.what,
      patients: band.rows.length,
      ...happenedTo(
        band.rows.map((i) => truth[i]),
        isShare,
      ),
      ...(band.rows.length > 0 && { said: meanOf(band.rows.map((i) => own[i])) }),
    })),
    patients: rowCount,
    unknown: rowCount - known.length,
    averaged: each,
  };
}

/** Different values where these are few, else evenly from the 1st to the 99th of 100, with the ends. */
function placesAlong(known: Float64Array): number[] {
  const sorted = known.slice().sort();
  const different = [...new Set(sorted)];
  if (different.length <= atMost.places) return different;
  const [from, to] = [0.01, 0.99].map((share) => sortedQuantile(sorted, share));
  const steps = atMost.places - 3;
  const between = Array.from({ length: steps + 1 }, (_, k) => from + (k * (to - from)) / steps);
  return [...new Set([sorted[0], ...between, sorted[sorted.length - 1]])];
}

interface Banded {
  what: Pick<Band, 'from' | 'to' | 'level'>;
  rows: number[];
}

function bandsOf(column: PredictorColumn, known: Int32Array): Banded[] {
  if (column.type === 'coded')
    return column.levels.map((level, code) => ({
      what: { level },
      rows: Array.from(known).filter((i) => column.codes[i] === code),
    }));
  const { values } = column;
  const order = Array.from(known).sort((a, b) => values[a] - values[b]);
  const bands: Banded[] = [];
  const size = order.length / atMost.bands;
  for (let from = 0; from < order.length;) {
    let to = Math.min(order.length, Math.max(from + 1, Math.round((bands.length + 1) * size)));
    // The same value stands in one band.
    while (to < order.length && values[order[to]] === values[order[to - 1]]) to++;
    const rows = order.slice(from, to);
    bands.push({ what: { from: values[rows[0]], to: values[rows[rows.length - 1]] }, rows });
    from = to;
  }
  return bands;
}

function happenedTo(truth: number[], isShare: boolean): Pick<Band, 'observed' | 'interval'> {
  if (truth.length === 0) return {};
  if (isShare) {
    const { value, interval } = rate(
      truth.reduce((sum, one) => sum + one, 0),
      truth.length,
    );
    return { observed: value, ...(interval && { interval: [...interval] as [number, number] }) };
  }
  const mean = meanOf(truth);
  if (truth.length < 2) return { observed: mean };
  const variance = truth.reduce((sum, one) => sum + (one - mean) ** 2, 0) / (truth.length - 1);
  const reach = z95 * Math.sqrt(variance / truth.length);
  return { observed: mean, interval: [mean - reach, mean + reach] };
}
