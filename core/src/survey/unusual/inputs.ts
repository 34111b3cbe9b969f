import type { Inputs } from '../../preparation/index.ts';
import type { Measured } from '../associate/index.ts';

/** Columns as trees take them: numbers and codes, with gaps; text is no input. */
export function inputsFrom(columns: Measured[], rowCount: number): Inputs {
  const used = columns.filter(({ column }) => column.type !== 'text');
  return {
    rowCount,
    names: used.map(({ name }) => name),
    columns: used.map(({ column }) =>
      column.type === 'number'
        ? Float64Array.from(column.values)
        : Float64Array.from(column.type === 'coded' ? column.codes : [], (code) =>
            code < 0 ? NaN : code,
          ),
    ),
    levels: used.map(({ column }) => (column.type === 'coded' ? column.levels : undefined)),
    ordered: used.map(({ kind }) => kind === 'ordered category'),
  };
}

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
