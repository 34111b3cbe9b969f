// Compiled to WebAssembly by `npm run kernels`; not part of the TypeScript program.
//
// Patients go through a tree. A node is 16 bytes: threshold (f64), left child (i32; the right one stands
// next to it), input (i16, -1 in a leaf), flags (u16: 1 where those who lack the input go left, 2 more
// where it is levels, whose threshold is where they begin in `goes`).

/** Writes for each patient what stands at `child` of its leaf. `values` are by input, `stride` bytes each. */
export function walk(
  nodes: usize,
  root: i32,
  values: usize,
  stride: usize,
  count: i32,
  goes: usize,
  leaves: usize,
): void {
  const first = nodes + ((<usize>root) << 4);
  for (let i = 0; i < count; i++, values += 8, leaves += 4) {
    let node = first;
    let input = <i32>load<i16>(node, 12);
    while (input >= 0) {
      const value = load<f64>(values + <usize>input * stride);
      const flags = <i32>load<u16>(node, 14);
      const threshold = load<f64>(node);
      let right = <i32>!(value < threshold);
      if (flags > 1) {
        if (value == value) right = 1 - <i32>load<u8>(goes + <usize>threshold + <usize>value);
      }
      right = select<i32>(1 - (flags & 1), right, value != value);
      node = nodes + ((<usize>(load<i32>(node, 8) + right)) << 4);
      input = <i32>load<i16>(node, 12);
    }
    store<i32>(leaves, load<i32>(node, 8));
  }
}
