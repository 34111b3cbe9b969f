import { countMissing, type Column } from '../../table/index.ts';
import { describeNumbers, type NumberDescription } from './numbers.ts';

/** One column of the patients at hand, as a line of the overview. */
export interface ColumnDescription {
  name: string;
  missing: number;
  /** How many different values, or levels in use. */
  different: number;
  /** Numbers and dates with anything known. */
  numbers?: NumberDescription;
  /** Coded columns: patients a level. */
  counts?: number[];
}

export function describeColumn(name: string, column: Column): ColumnDescription {
  const missing = countMissing(column);
  if (column.type === 'text') {
    const values = new Set(column.values);
    values.delete(null);
    return { name, missing, different: values.size };
  }
  if (column.type === 'number') {
    const numbers = describeNumbers(column.values);
    return { name, missing, different: numbers?.different ?? 0, numbers };
  }
  const counts = new Array<number>(column.levels.length).fill(0);
  for (const code of column.codes) if (code >= 0) counts[code]++;
  return { name, missing, different: counts.filter((count) => count > 0).length, counts };
}
