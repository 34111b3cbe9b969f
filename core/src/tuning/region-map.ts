import { cellsOf, type MapAxis, type RegionsShown } from '../families/index.ts';
import { sortedPresent, sortedQuantile } from '../numeric/index.ts';
import { numbersOf, type Predictions } from '../outcome/index.ts';
import type { PredictorColumn } from '../preparation/index.ts';

/** Cells of a number, across and up. */
const usualCells = [60, 40];
/** Patients who are drawn at most. */
const drawn = 1000;
/** Share of the patients that is left beyond each end of a number. */
const beyond = 0.005;

/**
 * What a model of two predictors says of everybody: predictions in the middle of each cell of their plane, and where
 * patients stand in it. Undefined where one of the two does not vary.
 *
 * @param rows the development patients
 * @param predict of columns like the two, for so many rows
 * @param cells of a number, across and up
 */
export function regionMap(
  [across, up]: PredictorColumn[],
  rows: Int32Array,
  predict: (columns: PredictorColumn[], rowCount: number) => Predictions,
  cells = usualCells,
): RegionsShown | undefined {
  const [x, y] = [axisOf(across, rows, cells[0]), axisOf(up, rows, cells[1])];
  if (!x || !y) return undefined;
  const [wide, high] = [cellsOf(x), cellsOf(y)];
  const place = Array.from({ length: wide * high }, (_, i) => i);
  const predicted = predict(
    [
      columnOf(
        across,
        x,
        place.map((i) => i % wide),
      ),
      columnOf(
        up,
        y,
        place.map((i) => Math.floor(i / wide)),
      ),
    ],
    place.length,
  );
  const every = Math.max(1, Math.ceil(rows.length / drawn));
  const patients: RegionsShown['patients'] = { place: [], across: [], up: [] };
  let outside = 0;
  for (let i = 0; i < rows.length; i += every) {
    const at = [valueAt(across, x, rows[i]), valueAt(up, y, rows[i])];
    if (!isWithin(x, at[0]) || !isWithin(y, at[1])) {
      outside++;
      continue;
    }
    patients.place.push(i);
    patients.across.push(at[0]);
    patients.up.push(at[1]);
  }
  return {
    across: x,
    up: y,
    predicted: {
      kind: predicted.kind,
      ...(predicted.kind === 'levels' && { levels: predicted.levels }),
      // Four digits tell shades apart.
      values: Array.from(numbersOf(predicted), (value) => Number(value.toPrecision(4))),
    },
    patients,
    outside,
    of: rows.length,
  };
}

type NumberAxis = Extract<MapAxis, { cells: number }>;

function axisOf(column: PredictorColumn, rows: Int32Array, count: number): MapAxis | undefined {
  if (column.type === 'coded') {
    const seen = new Set(Array.from(rows, (row) => column.codes[row]));
    const levels = column.levels.filter((_, code) => seen.has(code));
    return levels.length > 1 ? { column: column.name, levels } : undefined;
  }
  const known = sortedPresent(Float64Array.from(rows, (row) => column.values[row]));
  let [from, to] = [beyond, 1 - beyond].map((share) => sortedQuantile(known, share));
  // Of a number that hardly anybody has another value of, all that there is.
  if (!(from < to)) [from, to] = [known[0], known[known.length - 1]];
  return from < to ? { column: column.name, from, to, cells: count } : undefined;
}

/** A column like the given one, with the middle of these cells. */
function columnOf(column: PredictorColumn, axis: MapAxis, at: number[]): PredictorColumn {
  const { name, ordered, plausible } = column;
  const like = { name, ...(ordered !== undefined && { ordered }), ...(plausible && { plausible }) };
  if (column.type === 'coded' && 'levels' in axis)
    return {
      ...like,
      type: 'coded',
      levels: column.levels,
      codes: Int32Array.from(at, (cell) => column.levels.indexOf(axis.levels[cell])),
    };
  const { from, to, cells: count } = axis as NumberAxis;
  const middle = (cell: number) => from + ((cell + 0.5) / count) * (to - from);
  return { ...like, type: 'number', values: Float64Array.from(at, middle) };
}

/** The number, or the place of the level among those of the axis; NaN where not known. */
function valueAt(column: PredictorColumn, axis: MapAxis, row: number): number {
  if (column.type === 'number' || !('levels' in axis))
    return column.type === 'number' ? column.values[row] : NaN;
  return column.codes[row] < 0 ? NaN : axis.levels.indexOf(column.levels[column.codes[row]]);
}

const isWithin = (axis: MapAxis, value: number) =>
  'levels' in axis ? !Number.isNaN(value) : value >= axis.from && value <= axis.to;
