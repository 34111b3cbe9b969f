/** The same rows so many times behind one another. */
export function inTurns(rows: Int32Array, times: number): Int32Array {
  const all = new Int32Array(times * rows.length);
  for (let time = 0; time < times; time++) all.set(rows, time * rows.length);
  return all;
}

/** The rows of one side, ascending. */
export function rowsOn(sides: Uint8Array, wanted: number): Int32Array {
  const rows = new Int32Array(sides.length);
  let count = 0;
  for (let row = 0; row < sides.length; row++) if (sides[row] === wanted) rows[count++] = row;
  return rows.slice(0, count);
}
