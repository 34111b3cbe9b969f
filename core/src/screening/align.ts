import { deriveColumn, DerivedColumnError } from '../formula/index.ts';
import type { PredictorColumn } from '../preparation/index.ts';
import {
  isCoded,
  type CodedColumn,
  type Column,
  type NumberColumn,
  type Table,
} from '../table/index.ts';
import { derivedInOrder } from './inputs.ts';
import { findUnfamiliar, type Unfamiliar } from './unfamiliar.ts';
import type { Model, ModelPredictor } from '../model/index.ts';

/** How one predictor of the model is met by a later cohort. */
export interface AlignedPredictor {
  name: string;
  label: string;
  unit: string;
  /** The cohort has no such column (or not one that can be read as the model's kind). */
  absent: boolean;
  /** Rows where it is not known, besides new levels. */
  gaps: number;
  /** Levels that no development patient had, with how many rows have them. */
  newLevels: { level: string; rows: number }[];
  /** Rows below or above what the development patients had. */
  below: number;
  above: number;
  range?: [number, number];
  gapShareThen: number;
  /** How far its values lie from the development patients'; absent where that cannot be said. */
  shift?: Shift;
  /** Values that hardly any development patient had; empty where there are none. */
  unfamiliar: Unfamiliar[];
  /** What scoring does about it; empty when there is nothing to do. */
  treatment: string;
  /** It has no part in what the model predicts, so that nothing about it matters. */
  isUnused?: true;
}

/**
 * Of a number: its means then and now, and their difference in SDs of the development patients. Of
 * levels: the level whose share moved most, its share then and now; `size` is half the sum of all
 * moves (total variation distance), the share of patients who would have to change level.
 */
export interface Shift {
  level?: string;
  then: number;
  now: number;
  size: number;
}

export interface Alignment {
  columns: PredictorColumn[];
  predictors: AlignedPredictor[];
  /** For each predictor with unfamiliar values, 1 in the rows that have one. */
  unfamiliar: { name: string; rows: Uint8Array }[];
  /** Columns of the cohort that the model does not use. */
  extra: string[];
}

/** Meets the model's predictors with a cohort's columns, by name, and counts what is amiss. */
export function alignColumns(model: Model, given: Table): Alignment {
  const table = withDerived(model, given);
  const used = new Set([...model.predictors, ...model.sources].map(({ name }) => name));
  const pairs = model.predictors.map((predictor) => alignOne(predictor, table));
  const columns = pairs.map((pair) => pair.column);
  const strange = findUnfamiliar(
    model,
    columns,
    pairs.map((pair) => pair.newLevel),
  );
  return {
    columns,
    predictors: pairs.map(({ report }, i) => ({ ...report, unfamiliar: strange[i].found })),
    unfamiliar: strange.flatMap(({ rows }, i) =>
      rows ? [{ name: model.predictors[i].name, rows }] : [],
    ),
    extra: given.dictionary.filter((entry) => !used.has(entry.name)).map((entry) => entry.name),
  };
}

/** The model's predictors in a cohort, by name, where nothing has to be said of them. */
export function columnsForModel(model: Model, given: Table): PredictorColumn[] {
  const table = withDerived(model, given);
  return model.predictors.map((predictor) => alignOne(predictor, table).column);
}

/**
 * The cohort with the model's derived columns worked out anew by the model's own formulas. One that
 * cannot be, because the cohort lacks what it reads, is left as absent.
 */
function withDerived(model: Model, table: Table): Table {
  const dictionary = [...table.dictionary];
  const columns = [...table.columns];
  for (const derived of derivedInOrder(model)) {
    const place = dictionary.findIndex(({ name }) => name === derived.name);
    try {
      const sofar = { rowCount: table.rowCount, dictionary, columns };
      const { entry, column } = deriveColumn({ ...derived, role: 'predictor' }, sofar);
      const at = place < 0 ? dictionary.length : place;
      dictionary[at] = entry;
      columns[at] = column;
    } catch (error) {
      if (!(error instanceof DerivedColumnError)) throw error;
      if (place >= 0) {
        dictionary.splice(place, 1);
        columns.splice(place, 1);
      }
    }
  }
  return { rowCount: table.rowCount, dictionary, columns };
}

function alignOne(predictor: ModelPredictor, table: Table) {
  const position = table.dictionary.findIndex((entry) => entry.name === predictor.name);
  const column = table.columns[position] as Column | undefined;
  const { name, label, unit, range } = predictor;
  const report: AlignedPredictor = {
    name,
    label,
    unit,
    absent: false,
    gaps: 0,
    newLevels: [],
    below: 0,
    above: 0,
    range,
    gapShareThen: predictor.gapShare,
    unfamiliar: [],
    treatment: '',
  };
  const aligned = isCoded(predictor.kind)
    ? alignCodes(predictor, column, table.rowCount, report)
    : alignNumbers(column, table.rowCount, report);
  // Aligned, a new level and a gap are the same code: who had which is told by the column as given.
  const newLevel =
    aligned.type === 'coded' && column?.type === 'coded' && report.newLevels.length > 0
      ? column
      : undefined;
  const shift =
    aligned.type === 'number' ? numberShift(predictor, aligned) : levelShift(predictor, aligned);
  if (shift && !report.absent) report.shift = shift;
  return { column: { ...aligned, name }, report, newLevel };
}

function alignNumbers(
  column: Column | undefined,
  rows: number,
  report: AlignedPredictor,
): NumberColumn {
  if (column?.type !== 'number') {
    report.absent = true;
    return { type: 'number', values: new Float64Array(rows).fill(NaN) };
  }
  const [least, greatest] = report.range ?? [-Infinity, Infinity];
  for (const value of column.values) {
    if (Number.isNaN(value)) report.gaps++;
    else if (value < least) report.below++;
    else if (value > greatest) report.above++;
  }
  return column;
}

function alignCodes(
  predictor: ModelPredictor,
  column: Column | undefined,
  rows: number,
  report: AlignedPredictor,
): CodedColumn {
  const levels = predictor.levels ?? [];
  if (column?.type !== 'coded') {
    report.absent = true;
    return { type: 'coded', codes: new Int32Array(rows).fill(-1), levels };
  }
  const place = column.levels.map((level) => levels.indexOf(level));
  const counts = new Array<number>(column.levels.length).fill(0);
  const codes = column.codes.map((code) => {
    if (code < 0) {
      report.gaps++;
      return -1;
    }
    counts[code]++;
    return place[code];
  });
  report.newLevels = column.levels.flatMap((level, code) =>
    place[code] < 0 && counts[code] > 0 ? [{ level, rows: counts[code] }] : [],
  );
  return { type: 'coded', codes, levels };
}

/** Fewer known values than this say little about a shift. */
const enough = 20;

function numberShift({ mean, sd }: ModelPredictor, { values }: NumberColumn): Shift | undefined {
  let sum = 0;
  let known = 0;
  for (const value of values)
    if (!Number.isNaN(value)) {
      sum += value;
      known++;
    }
  if (known < enough || mean === undefined || !sd) return undefined;
  return { then: mean, now: sum / known, size: (sum / known - mean) / sd };
}

function levelShift(
  { levels = [], levelShares }: ModelPredictor,
  { codes }: CodedColumn,
): Shift | undefined {
  if (!levelShares) return undefined;
  const counts = new Array<number>(levels.length).fill(0);
  let known = 0;
  for (const code of codes)
    if (code >= 0) {
      counts[code]++;
      known++;
    }
  if (known < enough) return undefined;
  const moves = levelShares.map((share, level) => counts[level] / known - share);
  const most = moves.reduce(
    (best, move, i) => (Math.abs(move) > Math.abs(moves[best]) ? i : best),
    0,
  );
  return {
    level: levels[most],
    then: levelShares[most],
    now: counts[most] / known,
    size: moves.reduce((sum, move) => sum + Math.abs(move), 0) / 2,
  };
}
