import type { Column } from '@rook-scale/core/table';

/** A copy in memory that threads share, so that handing it to one costs nothing. */
export function sharedFloats(values: Float64Array): Float64Array {
  const shared = new Float64Array(new SharedArrayBuffer(values.byteLength));
  shared.set(values);
  return shared;
}

export function sharedIntegers(values: Int32Array): Int32Array {
  const shared = new Int32Array(new SharedArrayBuffer(values.byteLength));
  shared.set(values);
  return shared;
}

/** The column in shared memory; text stays where it is. */
export function sharedColumn(column: Column): Column {
  if (column.type === 'number') return { type: 'number', values: sharedFloats(column.values) };
  return column.type === 'coded' ? { ...column, codes: sharedIntegers(column.codes) } : column;
}
