import { countMissing } from '../../table/index.ts';
import { sortedGrades } from '../../numeric/index.ts';
import { gradesOfColumn, type Measured } from '../associate/index.ts';
import { describeSorted, type NumberDescription } from './numbers.ts';

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

export function describeColumn(measured: Measured): ColumnDescription {
  const { name, column } = measured;
  if (column.type === 'text') {
    const values = new Set(column.values);
    values.delete(null);
    return { name, missing: countMissing(column), different: values.size };
  }
  const grades = gradesOfColumn(measured);
  const missing = grades.unknown.length;
  if (column.type === 'number')
    return {
      name,
      missing,
      different: grades.values.length,
      numbers: describeSorted(sortedGrades(grades)),
    };
  const counts = Array.from(grades.counts);
  return { name, missing, different: counts.filter((count) => count > 0).length, counts };
}
