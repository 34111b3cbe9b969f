import type { Outcome } from '../outcome/index.ts';
import { isCoded, type CodedColumn, type NumberColumn, type Table } from '../table/index.ts';
import { inputsAsTheyAre } from './as-they-are.ts';
import { fillGaps, learnFill, type FilledColumn } from './fill-gaps.ts';
import {
  gapRows,
  learnGapInputs,
  majority,
  type GapInput,
  type LearnedGaps,
} from './gap-inputs.ts';
import { learnIndicators, makeIndicators, type IndicatorColumn } from './indicator-columns.ts';
import type { InputMeaning, Inputs } from './inputs.ts';
import { learnPooling, poolLevels, type PooledColumn } from './pool-levels.ts';
import { learnScales, standardise, type StandardisedColumn } from './standardise.ts';
import { backingOf } from './support.ts';
import type { WorkingColumn } from './working.ts';

/** The fixed preparation as learned on some patients: plain JSON, the same for any later cohort. */
export interface FittedPreparation {
  /** The columns go in as they are. */
  asTheyAre?: true;
  /** Patients it was fitted on. */
  patients: number;
  filled: FilledColumn[];
  /** Absent in models from before inputs had to be supported: each column with gaps has its own. */
  gaps?: LearnedGaps;
  pooled?: PooledColumn[];
  indicators: IndicatorColumn[];
  standardised: StandardisedColumn[];
  inputs: InputMeaning[];
}

/** One predictor as it stands in a table whose columns are already in the model's order. */
export type PredictorColumn = { name: string; ordered?: boolean } & (NumberColumn | CodedColumn);

/**
 * Learns the preparation on these rows only, and gives the inputs it makes of them.
 *
 * @param outcome of each entry of `rows`
 */
export function fitPreparation(
  predictors: PredictorColumn[],
  rows: ArrayLike<number>,
  outcome: Outcome,
): { preparation: FittedPreparation; inputs: Inputs } {
  const start = takeRows(predictors, rows);
  const backing = backingOf(outcome);
  const gaps = learnGapInputs(start, backing);
  const filled = learnFill(start);
  const withoutGaps = fillGaps(filled, start);
  const pooled = learnPooling(withoutGaps, backing);
  const pooledColumns = poolLevels(pooled, withoutGaps);
  const indicators = learnIndicators(pooledColumns);
  const numbers = makeIndicators(indicators, pooledColumns);
  const standardised = learnScales(numbers, backing);
  const columns = withGapInputs(gaps.inputs, start, standardise(standardised, numbers));
  const scales = new Map(standardised.map((entry) => [entry.column, entry]));
  const preparation = {
    patients: rows.length,
    filled,
    gaps,
    pooled,
    indicators,
    standardised,
    inputs: columns.map((column) => meaning(column, scales, gaps.inputs)),
  };
  return { preparation, inputs: asInputs(preparation, columns, rows.length) };
}

/** The model inputs of these rows. Nothing is learned here. */
export function applyPreparation(
  fitted: FittedPreparation,
  predictors: PredictorColumn[],
  rows: ArrayLike<number>,
): Inputs {
  if (fitted.asTheyAre) return inputsAsTheyAre(fitted, predictors, rows);
  const start = takeRows(predictors, rows);
  const pooled = poolLevels(fitted.pooled ?? [], fillGaps(fitted.filled, start));
  const numbers = makeIndicators(fitted.indicators, pooled);
  const columns = withGapInputs(
    gapInputsOf(fitted),
    start,
    standardise(fitted.standardised, numbers),
  );
  return asInputs(fitted, columns, rows.length);
}

/** The gap indicators of a preparation. */
export function gapInputsOf({ gaps, filled }: FittedPreparation): Pick<GapInput, 'columns'>[] {
  if (gaps) return gaps.inputs;
  return filled
    .filter((entry) => entry.gaps > 0 && (entry.number ?? entry.level ?? null) !== null)
    .map(({ column }) => ({ columns: [column] }));
}

/** The predictors of a table by name, in the order asked for. Unknown and unusable ones are skipped. */
export function choosePredictors(table: Table, names: string[]): PredictorColumn[] {
  return names.flatMap((name): PredictorColumn[] => {
    const place = table.dictionary.findIndex((entry) => entry.name === name);
    const column = table.columns[place];
    if (!column || column.type === 'text') return [];
    const { kind } = table.dictionary[place];
    return [{ name, ...(isCoded(kind) && { ordered: kind === 'ordered category' }), ...column }];
  });
}

function takeRows(predictors: PredictorColumn[], rows: ArrayLike<number>): WorkingColumn[] {
  return predictors.map(({ name, ...column }): WorkingColumn => {
    if (column.type === 'number') {
      const values = new Float64Array(rows.length);
      for (let i = 0; i < rows.length; i++) values[i] = column.values[rows[i]];
      return { source: name, part: 'value', type: 'number', values };
    }
    const codes = new Int32Array(rows.length);
    for (let i = 0; i < rows.length; i++) codes[i] = column.codes[rows[i]];
    const { levels, ordered } = column;
    return { source: name, part: 'value', type: 'coded', codes, levels, ordered };
  });
}

/** Puts each gap indicator behind what was made of the first of its columns. */
function withGapInputs(
  inputs: Pick<GapInput, 'columns'>[],
  start: WorkingColumn[],
  made: WorkingColumn[],
): WorkingColumn[] {
  if (inputs.length === 0) return made;
  const bySource = new Map(start.map((column) => [column.source, column]));
  const gapOf = new Map(
    inputs.map(({ columns }) => [columns[0], gapIndicator(columns, bySource)] as const),
  );
  return start.flatMap(({ source }) => {
    const gap = gapOf.get(source);
    return [...made.filter((column) => column.source === source), ...(gap ? [gap] : [])];
  });
}

function gapIndicator(
  columns: string[],
  bySource: Map<string, WorkingColumn>,
): WorkingColumn | undefined {
  const there = columns.flatMap((name) => bySource.get(name) ?? []);
  if (there.length === 0) return undefined;
  const marked = majority(there.map(gapRows));
  const values = new Float64Array(marked.length);
  for (let i = 0; i < values.length; i++) values[i] = marked[i];
  return { source: columns[0], part: 'gap', type: 'number', values };
}

function asInputs(fitted: FittedPreparation, columns: WorkingColumn[], rowCount: number): Inputs {
  return {
    rowCount,
    names: fitted.inputs.map((input) => input.name),
    columns: columns.map((column) => {
      if (column.type !== 'number') throw new Error('A coded column was left by the preparation.');
      return column.values;
    }),
  };
}

function meaning(
  column: WorkingColumn,
  scales: Map<string, StandardisedColumn>,
  gapInputs: GapInput[],
): InputMeaning {
  const { source, part, level, reference } = column;
  if (part === 'gap') {
    const { columns } = gapInputs.find((input) => input.columns[0] === source)!;
    const name = `${columns.join(', ')} not known`;
    return { name, column: source, kind: 'gap', ...(columns.length > 1 && { columns }) };
  }
  if (part === 'level')
    return { name: `${source} = ${level}`, column: source, kind: 'level', level, reference };
  const scale = scales.get(source);
  return { name: source, column: source, kind: 'number', mean: scale?.mean, sd: scale?.sd };
}
