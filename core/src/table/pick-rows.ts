import type { Column } from './column.ts';

/** The column with these rows only, in their order. */
export function pickRows(column: Column, rows: ArrayLike<number>): Column {
  if (column.type === 'text')
    return { type: 'text', values: Array.from(rows, (row) => column.values[row]) };
  if (column.type === 'number') {
    const values = new Float64Array(rows.length);
    for (let i = 0; i < rows.length; i++) values[i] = column.values[rows[i]];
    return { type: 'number', values };
  }
  const codes = new Int32Array(rows.length);
  for (let i = 0; i < rows.length; i++) codes[i] = column.codes[rows[i]];
  return { type: 'coded', codes, levels: column.levels };
}
