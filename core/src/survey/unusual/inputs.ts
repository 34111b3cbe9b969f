import type { Inputs } from '../../preparation/index.ts';
import { inputsOf, type NamedColumn } from '../../unusualness/index.ts';
import type { Measured } from '../associate/index.ts';

/** Columns as trees take them; text is no input. */
export const inputsFrom = (columns: Measured[], rowCount: number): Inputs =>
  inputsOf(
    columns.flatMap(({ name, kind, column }): NamedColumn[] =>
      column.type === 'text' ? [] : [{ name, ordered: kind === 'ordered category', column }],
    ),
    rowCount,
  );

/** What most patients have: the median of a number, the most common level; NaN where nothing is known. */
export function usualValues({ columns, levels }: Inputs): number[] {
  return columns.map((values, j) => {
    const known = values.filter((value) => !Number.isNaN(value));
    if (known.length === 0) return NaN;
    const own = levels?.[j];
    if (!own) return known.sort()[Math.floor((known.length - 1) / 2)];
    const counts = new Float64Array(own.length);
    for (const code of known) counts[code]++;
    return counts.indexOf(Math.max(...counts));
  });
}
