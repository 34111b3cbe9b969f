// Compiled to WebAssembly by `npm run kernels`; not part of the TypeScript program.
//
// Patients go through a tree. A node is 16 bytes: threshold (f64), left child (i32; the right one stands
// next to it), input (i16, -1 in a leaf), flags (u16: 1 where those who lack the input go left, 2 more
// where it is levels, whose threshold is where they begin in `goes`).

let goes: usize = 0;
let width: usize = 0;

/** Writes for each patient what stands at `child` of its leaf. `values` are by input, `stride` bytes each. */
export function walk(
  nodes: usize,
  root: i32,
  values: usize,
  stride: usize,
  count: i32,
  levels: usize,
  leaves: usize,
): void {
  goes = levels;
  width = stride;
  const first = nodes + ((<usize>root) << 4);
  let i = 0;
  // Four at a time: while one waits for memory, the others go on. Who is in a leaf stays there.
  for (; i + 3 < count; i += 4, values += 32, leaves += 16) {
    let a = first;
    let b = first;
    let c = first;
    let d = first;
    while (
      (<i32>load<i16>(a, 12) &
        <i32>load<i16>(b, 12) &
        <i32>load<i16>(c, 12) &
        <i32>load<i16>(d, 12)) >= 0
    ) {
      a = next(nodes, a, values);
      b = next(nodes, b, values + 8);
      c = next(nodes, c, values + 16);
      d = next(nodes, d, values + 24);
    }
    store<i32>(leaves, load<i32>(a, 8));
    store<i32>(leaves, load<i32>(b, 8), 4);
    store<i32>(leaves, load<i32>(c, 8), 8);
    store<i32>(leaves, load<i32>(d, 8), 12);
  }
  for (; i < count; i++, values += 8, leaves += 4) {
    let node = first;
    while (<i32>load<i16>(node, 12) >= 0) node = next(nodes, node, values);
    store<i32>(leaves, load<i32>(node, 8));
  }
}

// @ts-ignore: decorator
@inline
function next(nodes: usize, node: usize, values: usize): usize {
  const input = <i32>load<i16>(node, 12);
  const value = load<f64>(values + (<usize>max(input, 0)) * width);
  const flags = <i32>load<u16>(node, 14);
  const threshold = load<f64>(node);
  let right = <i32>!(value < threshold);
  if (flags > 1) {
    if (value == value) right = 1 - <i32>load<u8>(goes + <usize>threshold + <usize>value);
  }
  right = select<i32>(1 - (flags & 1), right, value != value);
  const child = nodes + ((<usize>(load<i32>(node, 8) + right)) << 4);
  return select<usize>(node, child, input < 0);
}
