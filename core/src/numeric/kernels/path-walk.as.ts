// Compiled to WebAssembly by `npm run kernels`; not part of the TypeScript program.
//
// Each patient goes down all ways of a tree at once, and inputs are told what they add to it. A node, which asks a
// question, begins with its threshold (f64; of levels, where they begin in `goes`), input (u32), flags (u32: 1 where
// those who lack it go left, 2 more where it is levels), and the addresses of the nodes to the left and to the right
// (u32, 0 for a leaf). From 32 on stand six blocks, for the three states of its input and whether the patient goes
// left; each has six rows of `bytes`: what leaves beneath add to the sum and to the input, then by what the product
// changes on the left and what the sum from there counts for the input, then the same of the right.

let goes: usize = 0;
let states: usize = 0;
let values: usize = 0;
let sums: usize = 0;
let bytes: usize = 0;

/** Adds what each input adds for `count` patients, whose values and sums stand `width` behind one another. */
export function add(
  root: usize,
  rowBytes: usize,
  firstValue: usize,
  count: i32,
  width: i32,
  levels: usize,
  state: usize,
  firstSum: usize,
  stack: usize,
): void {
  goes = levels;
  states = state;
  values = firstValue;
  sums = firstSum;
  bytes = rowBytes;
  for (let i = 0; i < count; i++) {
    for (let k: usize = 0; k < bytes; k += 16) v128.store(stack + k, f64x2.splat(1));
    visit(root, stack);
    values += (<usize>width) << 3;
    sums += (<usize>width) << 3;
  }
}

/** At `here` stands the product on the way to the node; behind it the sum beneath is left. */
function visit(node: usize, here: usize): void {
  const input = load<u32>(node, 8);
  const value = load<f64>(values + (<usize>input << 3));
  const flags = load<u32>(node, 12);
  const threshold = load<f64>(node);
  let left: u32;
  if (value != value) left = flags & 1;
  else if ((flags & 2) != 0) left = <u32>load<u8>(goes + <usize>threshold + <usize>value);
  else left = <u32>(value < threshold);
  const stateAt = states + (<usize>input << 2);
  const state = load<u32>(stateAt);
  const block = node + 32 + (<usize>(2 * state + left)) * 6 * bytes;
  const sum = here + bytes;
  const next = sum + bytes;
  let added = f64x2.splat(0);
  for (let k: usize = 0; k < bytes; k += 16) {
    const product = v128.load(here + k);
    v128.store(sum + k, f64x2.mul(product, v128.load(block + k)));
    added = f64x2.add(added, f64x2.mul(product, v128.load(block + bytes + k)));
  }
  let ratio = block + 2 * bytes;
  for (let side: usize = 0; side < 2; side++, ratio += 2 * bytes) {
    const below = load<u32>(node + 16 + (side << 2));
    if (below == 0) continue;
    for (let k: usize = 0; k < bytes; k += 16)
      v128.store(next + k, f64x2.mul(v128.load(here + k), v128.load(ratio + k)));
    // Gone here only where it never went elsewhere before.
    const isHere = (side == 0) == (left == 1);
    store<u32>(stateAt, state != 2 && isHere ? 1 : 2);
    visit(below, next);
    for (let k: usize = 0; k < bytes; k += 16) {
      const beneath = v128.load(next + bytes + k);
      v128.store(sum + k, f64x2.add(v128.load(sum + k), beneath));
      added = f64x2.add(added, f64x2.mul(beneath, v128.load(ratio + bytes + k)));
    }
  }
  store<u32>(stateAt, state);
  const at = sums + (<usize>input << 3);
  store<f64>(at, load<f64>(at) + f64x2.extract_lane(added, 0) + f64x2.extract_lane(added, 1));
}
