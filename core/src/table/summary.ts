import { sortedPresent, sortedQuantile } from '../numeric/index.ts';
import { countMissing, type Column } from './column.ts';

/** What one line of the dictionary says about the values of a column. */
export interface ColumnSummary {
  missing: number;
  /** Numbers and dates: least, quartiles (type 7) and greatest, mean and SD (divisor n - 1). */
  numbers?: {
    least: number;
    lowerQuartile: number;
    median: number;
    upperQuartile: number;
    greatest: number;
    mean: number;
    sd: number;
  };
  /** Coded columns: patients per level, in the order of the levels. */
  counts?: number[];
  /** Text: how many different values. */
  different?: number;
}

export function summarise(column: Column): ColumnSummary {
  const missing = countMissing(column);
  if (column.type === 'text') {
    const values = new Set(column.values);
    values.delete(null);
    return { missing, different: values.size };
  }
  if (column.type === 'coded') {
    const counts = new Array<number>(column.levels.length).fill(0);
    for (const code of column.codes) if (code >= 0) counts[code]++;
    return { missing, counts };
  }
  const sorted = sortedPresent(column.values);
  if (sorted.length === 0) return { missing };
  let mean = 0;
  for (let i = 0; i < sorted.length; i++) mean += sorted[i];
  mean /= sorted.length;
  let squares = 0;
  for (let i = 0; i < sorted.length; i++) squares += (sorted[i] - mean) ** 2;
  return {
    missing,
    numbers: {
      least: sorted[0],
      lowerQuartile: sortedQuantile(sorted, 0.25),
      median: sortedQuantile(sorted, 0.5),
      upperQuartile: sortedQuantile(sorted, 0.75),
      greatest: sorted[sorted.length - 1],
      mean,
      sd: sorted.length > 1 ? Math.sqrt(squares / (sorted.length - 1)) : 0,
    },
  };
}
