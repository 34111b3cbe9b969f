// Compiled to WebAssembly by `npm run kernels`; not part of the TypeScript program.
//
// What growing trees does with every patient. `cells` holds, patient by patient, the place of each
// input's bin; `pairs` two numbers a patient; `rows` the patients of nodes side by side.

/** Adds the pairs of these patients to the places that they are in, of every input. */
export function addPairs(
  rows: usize,
  count: i32,
  cells: usize,
  width: i32,
  pairs: usize,
  sums: usize,
): void {
  const bytes = (<usize>width) << 1;
  const end = rows + ((<usize>count) << 2);
  for (; rows < end; rows += 4) {
    const row = <usize>load<u32>(rows);
    const pair = v128.load(pairs + (row << 4));
    let cell = cells + row * bytes;
    const last = cell + bytes;
    for (; cell + 6 < last; cell += 8) {
      const a = sums + ((<usize>load<u16>(cell)) << 4);
      const b = sums + ((<usize>load<u16>(cell + 2)) << 4);
      const c = sums + ((<usize>load<u16>(cell + 4)) << 4);
      const d = sums + ((<usize>load<u16>(cell + 6)) << 4);
      v128.store(a, f64x2.add(v128.load(a), pair));
      v128.store(b, f64x2.add(v128.load(b), pair));
      v128.store(c, f64x2.add(v128.load(c), pair));
      v128.store(d, f64x2.add(v128.load(d), pair));
    }
    for (; cell < last; cell += 2) {
      const a = sums + ((<usize>load<u16>(cell)) << 4);
      v128.store(a, f64x2.add(v128.load(a), pair));
    }
  }
}

/** The larger child's sums: the node's without the smaller one's. */
export function takeAway(sums: usize, part: usize, places: i32): void {
  const end = sums + ((<usize>places) << 4);
  for (; sums < end; sums += 16, part += 16)
    v128.store(sums, f64x2.sub(v128.load(sums), v128.load(part)));
}

/**
 * Puts the patients first for whose place `goes` is 1, both sides in the order that they had. Gives how
 * many they are. `cells` begins at the input that parts them.
 */
export function partRows(rows: usize, count: i32, column: usize, goes: usize, spare: usize): i32 {
  const end = rows + ((<usize>count) << 2);
  let left = rows;
  let right = spare;
  for (let at = rows; at < end; at += 4) {
    const row = load<u32>(at);
    const toLeft = <usize>load<u8>(goes + <usize>load<u16>(column + ((<usize>row) << 1)));
    store<u32>(left, row);
    store<u32>(right, row);
    left += toLeft << 2;
    right += (1 - toLeft) << 2;
  }
  memory.copy(left, spare, right - spare);
  return <i32>((left - rows) >> 2);
}
