import type { CodedColumn, NumberColumn, Table } from '../table/index.ts';
import { fillGaps, type FilledColumn } from './fill-gaps.ts';
import { indicatorColumns, type IndicatorColumn } from './indicator-columns.ts';
import type { InputMeaning, Inputs } from './inputs.ts';
import { standardise, type StandardisedColumn } from './standardise.ts';
import type { WorkingColumn } from './working.ts';

/** The fixed preparation as learned on some patients: plain JSON, the same for any later cohort. */
export interface FittedPreparation {
  /** Patients it was fitted on. */
  patients: number;
  filled: FilledColumn[];
  indicators: IndicatorColumn[];
  standardised: StandardisedColumn[];
  inputs: InputMeaning[];
}

/** One predictor as it stands in a table whose columns are already in the model's order. */
export type PredictorColumn = { name: string } & (NumberColumn | CodedColumn);

/** Learns the preparation on these rows only. */
export function fitPreparation(
  predictors: PredictorColumn[],
  rows: ArrayLike<number>,
): FittedPreparation {
  const start = takeRows(predictors, rows);
  const filled = fillGaps.fit(start);
  const afterFill = fillGaps.apply(filled, start);
  const indicators = indicatorColumns.fit(afterFill);
  const afterIndicators = indicatorColumns.apply(indicators, afterFill);
  const standardised = standardise.fit(afterIndicators);
  const last = standardise.apply(standardised, afterIndicators);
  const scales = new Map(standardised.map((entry) => [entry.column, entry]));
  return {
    patients: rows.length,
    filled,
    indicators,
    standardised,
    inputs: last.map((column) => meaning(column, scales)),
  };
}

/** The model inputs of these rows. Nothing is learned here. */
export function applyPreparation(
  fitted: FittedPreparation,
  predictors: PredictorColumn[],
  rows: ArrayLike<number>,
): Inputs {
  const filled = fillGaps.apply(fitted.filled, takeRows(predictors, rows));
  const indicators = indicatorColumns.apply(fitted.indicators, filled);
  const columns = standardise.apply(fitted.standardised, indicators);
  return {
    rowCount: rows.length,
    names: fitted.inputs.map((input) => input.name),
    columns: columns.map((column) => {
      if (column.type !== 'number') throw new Error('A coded column was left by the preparation.');
      return column.values;
    }),
  };
}

/** The predictors of a table by name, in the order asked for. Unknown and unusable ones are skipped. */
export function choosePredictors(table: Table, names: string[]): PredictorColumn[] {
  return names.flatMap((name): PredictorColumn[] => {
    const column = table.columns[table.dictionary.findIndex((entry) => entry.name === name)];
    return !column || column.type === 'text' ? [] : [{ name, ...column }];
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
    return { source: name, part: 'value', type: 'coded', codes, levels: column.levels };
  });
}

function meaning(column: WorkingColumn, scales: Map<string, StandardisedColumn>): InputMeaning {
  const { source, part, level, reference } = column;
  if (part === 'gap') return { name: `${source} not known`, column: source, kind: 'gap' };
  if (part === 'level')
    return { name: `${source} = ${level}`, column: source, kind: 'level', level, reference };
  const scale = scales.get(source);
  return { name: source, column: source, kind: 'number', mean: scale?.mean, sd: scale?.sd };
}
