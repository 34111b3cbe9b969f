import { quantile } from '../numeric/index.ts';
import type { Step, WorkingColumn } from './working.ts';

/** What a gap in each column becomes. A level is named, not numbered, so that it means the same
 * in a cohort with other levels. */
export interface FilledColumn {
  column: string;
  /** Median of the known numbers, or the most common level; null where all was a gap. */
  number?: number | null;
  level?: string | null;
  /** Gaps among the patients it was fitted on. */
  gaps: number;
}

/**
 * Fills gaps with the median (numbers) or the most common level (ties: the earlier one), and adds
 * a gap indicator for each column that had gaps. A column without any known value is left out.
 */
export const fillGaps: Step<FilledColumn[]> = {
  id: 'fill gaps',

  fit(columns) {
    return columns.map((column) => {
      if (column.type === 'number') {
        const median = quantile(column.values, 0.5);
        const gaps = column.values.reduce((sum, value) => sum + Number(Number.isNaN(value)), 0);
        return { column: column.source, number: Number.isNaN(median) ? null : median, gaps };
      }
      const counts = new Array<number>(column.levels.length).fill(0);
      let gaps = 0;
      for (const code of column.codes) {
        if (code < 0) gaps++;
        else counts[code]++;
      }
      const most = counts.indexOf(Math.max(...counts));
      return { column: column.source, level: counts[most] > 0 ? column.levels[most] : null, gaps };
    });
  },

  apply(fitted, columns) {
    const filled = new Map(fitted.map((entry) => [entry.column, entry]));
    return columns.flatMap((column) => {
      const entry = filled.get(column.source);
      if (!entry || (entry.number ?? entry.level ?? null) === null) return [];
      const value = fill(column, entry);
      return entry.gaps > 0 ? [value, gapIndicator(column)] : [value];
    });
  },
};

function fill(column: WorkingColumn, entry: FilledColumn): WorkingColumn {
  if (column.type === 'number') {
    const median = entry.number ?? 0;
    return { ...column, values: column.values.map((v) => (Number.isNaN(v) ? median : v)) };
  }
  const common = column.levels.indexOf(entry.level ?? '');
  return { ...column, codes: column.codes.map((code) => (code < 0 ? common : code)) };
}

function gapIndicator(column: WorkingColumn): WorkingColumn {
  const values =
    column.type === 'number'
      ? column.values.map((value) => Number(Number.isNaN(value)))
      : Float64Array.from(column.codes, (code) => Number(code < 0));
  return { source: column.source, part: 'gap', type: 'number', values };
}
