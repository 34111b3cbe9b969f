// Compiled to WebAssembly by `npm run kernels`; not part of the TypeScript program.
//
// Patients go through a tree as they are, and as if some of their values were others. A node is 16 bytes: threshold
// (f64; of levels, where they begin in `goes`); address of the left child (u32, the right one stands next to it); eight
// times its input with flags in the lowest bits (u32): 1 where those who lack the input go left, 2 more where it is
// levels, 4 for a leaf. Every step from a leaf leads back to it: its threshold is NaN, so that everybody goes right,
// and its left child stands in front of it.

let goes: usize = 0;
let row: usize = 0;

/**
 * Adds to `sums` (`width` f64 a patient) what the leaf of each says, and to the sums of each alternative what its leaf
 * says more.
 *
 * @param places where what each node says stands (u32), if it is a leaf
 * @param pointers where columns of values begin (u32): of the patients as they are, then of each alternative in turn
 * @param lists by input (two u32): where the alternatives begin that alter it, each with
 *   its column of that input (two u32 each), and how many they are
 * @param gone a byte an alternative
 * @param met room for the alternatives that went elsewhere, their columns, and where they are (three u32 each)
 * @param apart bytes from the sums of one alternative to those of the next
 */
export function add(
  nodes: usize,
  places: usize,
  root: usize,
  count: i32,
  pointers: usize,
  inputs: i32,
  lists: usize,
  alternatives: i32,
  levels: usize,
  gone: usize,
  met: usize,
  sums: usize,
  width: i32,
  step: i32,
  altered: usize,
  apart: usize,
): void {
  goes = levels;
  const bytes = (<usize>inputs) << 2;
  for (let i = 0; i < count; i++) {
    row = (<usize>i) << 3;
    memory.fill(gone, 0, alternatives);
    let end = met;
    let node = root;
    for (;;) {
      const word = load<u32>(node, 12);
      if ((word & 4) != 0) break;
      const input = word >> 3;
      const right = goesRight(node, word, load<f64>(<usize>load<u32>(pointers + (<usize>input << 2)) + row));
      const list = lists + (<usize>input << 3);
      const first = <usize>load<u32>(list);
      const last = first + ((<usize>load<u32>(list, 4)) << 3);
      for (let at = first; at < last; at += 8) {
        const which = <usize>load<u32>(at);
        if (load<u8>(gone + which) != 0) continue;
        const other = goesRight(node, word, load<f64>(<usize>load<u32>(at, 4) + row));
        if (other == right) continue;
        store<u8>(gone + which, 1);
        store<u32>(end, <u32>which);
        store<u32>(end, <u32>(pointers + (which + 1) * bytes), 4);
        store<u32>(end, <u32>(<usize>load<u32>(node, 8) + (<usize>other << 4)), 8);
        end += 12;
      }
      node = <usize>load<u32>(node, 8) + (<usize>right << 4);
    }
    let at = met;
    for (; at + 36 < end; at += 48) goFour(at);
    for (; at < end; at += 12) {
      let there = <usize>load<u32>(at, 8);
      while ((load<u32>(there, 12) & 4) == 0) there = next(there, <usize>load<u32>(at, 4));
      store<u32>(at, <u32>there, 8);
    }
    const said = <usize>load<u32>(places + ((node - nodes) >> 2));
    const own = (<usize>i) * (<usize>step);
    for (let k: usize = 0; k < ((<usize>width) << 3); k += 8)
      store<f64>(sums + own + k, load<f64>(sums + own + k) + load<f64>(said + k));
    for (at = met; at < end; at += 12) {
      const to = altered + (<usize>load<u32>(at)) * apart + own;
      const other = <usize>load<u32>(places + ((<usize>load<u32>(at, 8) - nodes) >> 2));
      for (let k: usize = 0; k < ((<usize>width) << 3); k += 8)
        store<f64>(to + k, load<f64>(to + k) + (load<f64>(other + k) - load<f64>(said + k)));
    }
  }
}

/** Four go on to their leaves at a time: while one waits for memory, the others go on. */
// @ts-ignore: decorator
@inline
function goFour(at: usize): void {
  let a = <usize>load<u32>(at, 8);
  let b = <usize>load<u32>(at, 20);
  let c = <usize>load<u32>(at, 32);
  let d = <usize>load<u32>(at, 44);
  const ofA = <usize>load<u32>(at, 4);
  const ofB = <usize>load<u32>(at, 16);
  const ofC = <usize>load<u32>(at, 28);
  const ofD = <usize>load<u32>(at, 40);
  while ((load<u32>(a, 12) & load<u32>(b, 12) & load<u32>(c, 12) & load<u32>(d, 12) & 4) == 0) {
    a = next(a, ofA);
    b = next(b, ofB);
    c = next(c, ofC);
    d = next(d, ofD);
  }
  store<u32>(at, <u32>a, 8);
  store<u32>(at, <u32>b, 20);
  store<u32>(at, <u32>c, 32);
  store<u32>(at, <u32>d, 44);
}

// @ts-ignore: decorator
@inline
function next(node: usize, columns: usize): usize {
  const word = load<u32>(node, 12);
  const value = load<f64>(<usize>load<u32>(columns + (<usize>(word >> 3) << 2)) + row);
  return <usize>load<u32>(node, 8) + (<usize>goesRight(node, word, value) << 4);
}

// @ts-ignore: decorator
@inline
function goesRight(node: usize, word: u32, value: f64): u32 {
  const threshold = load<f64>(node);
  let right = <u32>!(value < threshold);
  if ((word & 2) != 0 && value == value)
    right = 1 - <u32>load<u8>(goes + <usize>threshold + <usize>value);
  // Who lacks it is on the right by now.
  return right & ~(<u32>(value != value) & word);
}
