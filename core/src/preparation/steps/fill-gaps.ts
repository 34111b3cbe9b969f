import * as z from 'zod';
import { quantile } from '../../numeric/index.ts';
import { isValue, type WorkingColumn } from '../working.ts';
import type { Step } from './step.ts';

const filledColumn = z.object({
  column: z.string(),
  /** Median of the known numbers, or the most common level; null where all was a gap. */
  number: z.number().nullable().optional(),
  level: z.string().nullable().optional(),
  /** Gaps among the patients it was fitted on. */
  gaps: z.number(),
});
/** What a gap in each column becomes. */
type FilledColumn = z.infer<typeof filledColumn>;

export const fillGaps: Step<FilledColumn[]> = {
  name: 'Fill gaps',
  about: 'A gap becomes the median of a number, or the most common level.',
  learned: z.array(filledColumn),
  learn,
  apply,
  effects: (filled) => filled.map((entry) => ({ what: 'filled', ...entry })),
};

/** The median of each number column and the most common level of each coded one (ties: the earlier). */
function learn(columns: WorkingColumn[]): FilledColumn[] {
  return columns.filter(isValue).map((column) => {
    if (column.type === 'number') {
      const median = quantile(column.values, 0.5);
      let gaps = 0;
      for (let i = 0; i < column.values.length; i++) if (Number.isNaN(column.values[i])) gaps++;
      return { column: column.source, number: Number.isNaN(median) ? null : median, gaps };
    }
    const counts = new Array<number>(column.levels.length).fill(0);
    let gaps = 0;
    for (let i = 0; i < column.codes.length; i++) {
      const code = column.codes[i];
      if (code < 0) gaps++;
      else counts[code]++;
    }
    const most = counts.indexOf(Math.max(...counts));
    return { column: column.source, level: counts[most] > 0 ? column.levels[most] : null, gaps };
  });
}

/** The columns without gaps. One of which nothing was known when it was learned is left out. */
function apply(fitted: FilledColumn[], columns: WorkingColumn[]): WorkingColumn[] {
  const filled = new Map(fitted.map((entry) => [entry.column, entry]));
  return columns.flatMap((column) => {
    if (!isValue(column)) return [column];
    const entry = filled.get(column.source);
    if (!entry || (entry.number ?? entry.level ?? null) === null) return [];
    // Most columns have no gap, and need no copy.
    return hasGap(column) ? [fill(column, entry)] : [column];
  });
}

function hasGap(column: WorkingColumn): boolean {
  if (column.type === 'number') {
    const { values } = column;
    for (let i = 0; i < values.length; i++) if (Number.isNaN(values[i])) return true;
    return false;
  }
  const { codes } = column;
  for (let i = 0; i < codes.length; i++) if (codes[i] < 0) return true;
  return false;
}

// Plain loops here and in the other steps: callbacks of typed arrays took five times as long.

function fill(column: WorkingColumn, entry: FilledColumn): WorkingColumn {
  if (column.type === 'number') {
    const median = entry.number ?? 0;
    const values = column.values.slice();
    for (let i = 0; i < values.length; i++) if (Number.isNaN(values[i])) values[i] = median;
    return { ...column, values };
  }
  const common = column.levels.indexOf(entry.level ?? '');
  const codes = column.codes.slice();
  for (let i = 0; i < codes.length; i++) if (codes[i] < 0) codes[i] = common;
  return { ...column, codes };
}
