// Compiled to WebAssembly by `npm run kernels`; not part of the TypeScript program.
//
// Xᵗ W X of one block of patients, added to the lower triangle of `sums` (row-major, size × size).
// Columns stand one behind the other, `rows` numbers each; `rows` is even, and what is beyond the
// block's end is 0. Two columns are multiplied with four others at a time, so that each number is
// read once for several products.

export function addProducts(
  columns: usize,
  weights: usize,
  scaled: usize,
  sums: usize,
  rows: i32,
  size: i32,
): void {
  const bytes = (<usize>rows) << 3;
  for (let j = 0; j < size; j += 2) {
    const two = j + 1 < size;
    const first = columns + <usize>j * bytes;
    const second = two ? first + bytes : first;
    for (let at: usize = 0; at < bytes; at += 16) {
      const weight = v128.load(weights + at);
      v128.store(scaled + at, f64x2.mul(weight, v128.load(first + at)));
      v128.store(scaled + bytes + at, f64x2.mul(weight, v128.load(second + at)));
    }
    const upTo = two ? j + 1 : j;
    const row = sums + ((<usize>j * <usize>size) << 3);
    const nextRow = row + ((<usize>size) << 3);
    let k = 0;
    for (; k + 3 <= upTo; k += 4) {
      let a0 = f64x2.splat(0);
      let a1 = f64x2.splat(0);
      let a2 = f64x2.splat(0);
      let a3 = f64x2.splat(0);
      let b0 = f64x2.splat(0);
      let b1 = f64x2.splat(0);
      let b2 = f64x2.splat(0);
      let b3 = f64x2.splat(0);
      const c0 = columns + <usize>k * bytes;
      const c1 = c0 + bytes;
      const c2 = c1 + bytes;
      const c3 = c2 + bytes;
      for (let at: usize = 0; at < bytes; at += 16) {
        const x = v128.load(scaled + at);
        const y = v128.load(scaled + bytes + at);
        const v0 = v128.load(c0 + at);
        const v1 = v128.load(c1 + at);
        const v2 = v128.load(c2 + at);
        const v3 = v128.load(c3 + at);
        a0 = f64x2.add(a0, f64x2.mul(x, v0));
        a1 = f64x2.add(a1, f64x2.mul(x, v1));
        a2 = f64x2.add(a2, f64x2.mul(x, v2));
        a3 = f64x2.add(a3, f64x2.mul(x, v3));
        b0 = f64x2.add(b0, f64x2.mul(y, v0));
        b1 = f64x2.add(b1, f64x2.mul(y, v1));
        b2 = f64x2.add(b2, f64x2.mul(y, v2));
        b3 = f64x2.add(b3, f64x2.mul(y, v3));
      }
      const to = row + ((<usize>k) << 3);
      add(to, a0);
      add(to + 8, a1);
      add(to + 16, a2);
      add(to + 24, a3);
      if (two) {
        const below = nextRow + ((<usize>k) << 3);
        add(below, b0);
        add(below + 8, b1);
        add(below + 16, b2);
        add(below + 24, b3);
      }
    }
    for (; k <= upTo; k++) {
      let a = f64x2.splat(0);
      let b = f64x2.splat(0);
      const c = columns + <usize>k * bytes;
      for (let at: usize = 0; at < bytes; at += 16) {
        const v = v128.load(c + at);
        a = f64x2.add(a, f64x2.mul(v128.load(scaled + at), v));
        b = f64x2.add(b, f64x2.mul(v128.load(scaled + bytes + at), v));
      }
      if (k <= j) add(row + ((<usize>k) << 3), a);
      if (two) add(nextRow + ((<usize>k) << 3), b);
    }
  }
}

function add(at: usize, sum: v128): void {
  store<f64>(at, load<f64>(at) + f64x2.extract_lane(sum, 0) + f64x2.extract_lane(sum, 1));
}

/** `to` becomes the columns of a block times their slopes, added up. */
export function combine(columns: usize, slopes: usize, to: usize, rows: i32, size: i32): void {
  const bytes = (<usize>rows) << 3;
  for (let at: usize = 0; at < bytes; at += 64) {
    let a = f64x2.splat(0);
    let b = f64x2.splat(0);
    let c = f64x2.splat(0);
    let d = f64x2.splat(0);
    for (let j = 0; j < size; j++) {
      const slope = v128.load64_splat(slopes + ((<usize>j) << 3));
      const from = columns + <usize>j * bytes + at;
      a = f64x2.add(a, f64x2.mul(slope, v128.load(from)));
      b = f64x2.add(b, f64x2.mul(slope, v128.load(from + 16)));
      c = f64x2.add(c, f64x2.mul(slope, v128.load(from + 32)));
      d = f64x2.add(d, f64x2.mul(slope, v128.load(from + 48)));
    }
    v128.store(to + at, a);
    v128.store(to + at + 16, b);
    v128.store(to + at + 32, c);
    v128.store(to + at + 48, d);
  }
}

/** Adds the product of each column of a block with `values` to `sums`. */
export function project(columns: usize, values: usize, sums: usize, rows: i32, size: i32): void {
  const bytes = (<usize>rows) << 3;
  for (let j = 0; j < size; j++) {
    const column = columns + <usize>j * bytes;
    let a = f64x2.splat(0);
    let b = f64x2.splat(0);
    let c = f64x2.splat(0);
    let d = f64x2.splat(0);
    for (let at: usize = 0; at < bytes; at += 64) {
      a = f64x2.add(a, f64x2.mul(v128.load(column + at), v128.load(values + at)));
      b = f64x2.add(b, f64x2.mul(v128.load(column + at + 16), v128.load(values + at + 16)));
      c = f64x2.add(c, f64x2.mul(v128.load(column + at + 32), v128.load(values + at + 32)));
      d = f64x2.add(d, f64x2.mul(v128.load(column + at + 48), v128.load(values + at + 48)));
    }
    add(sums + ((<usize>j) << 3), f64x2.add(f64x2.add(a, b), f64x2.add(c, d)));
  }
}
