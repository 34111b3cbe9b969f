// Compiled to WebAssembly by `npm run kernels`; not part of the TypeScript program.
//
// Patients go through a tree. A node is 16 bytes: threshold (f64); address of the left child (u32; the right
// one stands next to it); where the input's values begin (u32, a multiple of 8) with flags in its lowest bits:
// 1 where those who lack the input go left, 2 more where it is levels, whose threshold is where they begin in
// `goes`, 4 for a leaf. Every step from a leaf leads back to it: its threshold is NaN, so that everybody goes
// right, and its left child stands in front of it.

let goes: usize = 0;

/** Writes for each patient what stands in `places` (i32) for the leaf that the tree leads to. */
export function walk(
  nodes: usize,
  root: usize,
  steps: i32,
  values: usize,
  count: i32,
  levels: usize,
  places: usize,
  leaves: usize,
): void {
  goes = levels;
  let i = 0;
  for (; i + 3 < count; i += 4, values += 32, leaves += 16) {
    go(root, steps, values);
    store<i32>(leaves, load<i32>(places + ((a - nodes) >> 2)));
    store<i32>(leaves, load<i32>(places + ((b - nodes) >> 2)), 4);
    store<i32>(leaves, load<i32>(places + ((c - nodes) >> 2)), 8);
    store<i32>(leaves, load<i32>(places + ((d - nodes) >> 2)), 12);
  }
  for (; i < count; i++, values += 8, leaves += 4)
    store<i32>(leaves, load<i32>(places + ((goAlone(root, steps, values) - nodes) >> 2)));
}

/** Adds to the sum (f64) of each patient what stands in `said` (f64) for the leaf. */
export function add(
  nodes: usize,
  root: usize,
  steps: i32,
  values: usize,
  count: i32,
  levels: usize,
  said: usize,
  sums: usize,
): void {
  goes = levels;
  let i = 0;
  for (; i + 3 < count; i += 4, values += 32, sums += 32) {
    go(root, steps, values);
    store<f64>(sums, load<f64>(sums) + load<f64>(said + ((a - nodes) >> 1)));
    store<f64>(sums, load<f64>(sums, 8) + load<f64>(said + ((b - nodes) >> 1)), 8);
    store<f64>(sums, load<f64>(sums, 16) + load<f64>(said + ((c - nodes) >> 1)), 16);
    store<f64>(sums, load<f64>(sums, 24) + load<f64>(said + ((d - nodes) >> 1)), 24);
  }
  for (; i < count; i++, values += 8, sums += 8) {
    const leaf = goAlone(root, steps, values);
    store<f64>(sums, load<f64>(sums) + load<f64>(said + ((leaf - nodes) >> 1)));
  }
}

// Where four patients are.
let a: usize = 0;
let b: usize = 0;
let c: usize = 0;
let d: usize = 0;

/** Four at a time: while one waits for memory, the others go on. */
// @ts-ignore: decorator
@inline
function go(root: usize, steps: i32, values: usize): void {
  if (goes == 0) goBy(root, steps, values, false);
  else goBy(root, steps, values, true);
}

// @ts-ignore: decorator
@inline
function goBy(root: usize, steps: i32, values: usize, hasLevels: bool): void {
  let one = root;
  let two = root;
  let three = root;
  let four = root;
  for (let left = steps; left > 0; left--) {
    one = next(one, values, hasLevels);
    two = next(two, values + 8, hasLevels);
    three = next(three, values + 16, hasLevels);
    four = next(four, values + 24, hasLevels);
    // Deep trees have branches that end early.
    if ((left & 3) == 1) {
      const flags = load<u32>(one, 12) & load<u32>(two, 12) & load<u32>(three, 12);
      if ((flags & load<u32>(four, 12) & 4) != 0) break;
    }
  }
  a = one;
  b = two;
  c = three;
  d = four;
}

// @ts-ignore: decorator
@inline
function goAlone(root: usize, steps: i32, values: usize): usize {
  let node = root;
  for (let left = steps; left > 0; left--) node = next(node, values, true);
  return node;
}

// @ts-ignore: decorator
@inline
function next(node: usize, values: usize, hasLevels: bool): usize {
  const input = load<u32>(node, 12);
  const value = load<f64>(values + <usize>(input & ~7));
  const threshold = load<f64>(node);
  let right = <u32>!(value < threshold);
  if (hasLevels && (input & 2) != 0) {
    if (value == value) right = 1 - <u32>load<u8>(goes + <usize>threshold + <usize>value);
  }
  // Who lacks it is on the right by now.
  right &= ~(<u32>(value != value) & input);
  return <usize>(load<u32>(node, 8) + (right << 4));
}
