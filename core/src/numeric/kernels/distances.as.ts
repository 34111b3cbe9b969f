// Compiled to WebAssembly by `npm run kernels`; not part of the TypeScript program.
//
// Distances of one point to blocks of 32, as sums of squares (f32) or of absolute differences (i32), rough:
// in single precision. Whoever comes within a limit is written out, to be measured again.

// Where the point lies, and the ends of boxes: by column. Blocks: column by column, 32 numbers each, and
// where values may be missing, 32 more that are 1 for known ones and 0 else.

@inline
function part<T>(difference: v128): v128 {
  if (isInteger<T>()) return f32x4.abs(difference);
  return f32x4.mul(difference, difference);
}

@inline
function plainPart<T>(difference: f32): f32 {
  if (isInteger<T>()) return abs(difference);
  return difference * difference;
}

/** The least that anybody of a block can be away. */
@inline
function least<T>(point: usize, box: usize, columns: i32): f32 {
  let sum: f32 = 0;
  for (let j = 0; j < columns; j++) {
    const value = load<f32>(point + (<usize>j << 2));
    const low = load<f32>(box + (<usize>j << 3));
    const high = load<f32>(box + (<usize>j << 3), 4);
    if (value < low) sum += plainPart<T>(low - value);
    else if (value > high) sum += plainPart<T>(value - high);
  }
  return sum;
}

@inline
function write(rough: v128, limit: v128, row: i32, out: usize): usize {
  const bits = i32x4.bitmask(v128.and(f32x4.le(rough, limit), f32x4.lt(rough, f32x4.splat(Infinity))));
  if (bits & 1) {
    store<i32>(out, row);
    store<f32>(out, f32x4.extract_lane(rough, 0), 4);
    out += 8;
  }
  if (bits & 2) {
    store<i32>(out, row + 1);
    store<f32>(out, f32x4.extract_lane(rough, 1), 4);
    out += 8;
  }
  if (bits & 4) {
    store<i32>(out, row + 2);
    store<f32>(out, f32x4.extract_lane(rough, 2), 4);
    out += 8;
  }
  if (bits & 8) {
    store<i32>(out, row + 3);
    store<f32>(out, f32x4.extract_lane(rough, 3), 4);
    out += 8;
  }
  return out;
}

@inline
function known<T>(
  point: usize,
  blocks: usize,
  boxes: usize,
  columns: i32,
  from: i32,
  to: i32,
  limit: f32,
  out: usize,
  outEnd: usize,
  state: usize,
): i32 {
  const limits = f32x4.splat(limit);
  const size = (<usize>columns) << 7;
  let b = from;
  for (; b < to; b++) {
    if (out > outEnd) break;
    if (boxes != 0 && least<T>(point, boxes + ((<usize>(b * columns)) << 3), columns) > limit)
      continue;
    let at = blocks + <usize>b * size;
    const end = at + size;
    let p = point;
    let s0 = f32x4.splat(0);
    let s1 = s0;
    let s2 = s0;
    let s3 = s0;
    let s4 = s0;
    let s5 = s0;
    let s6 = s0;
    let s7 = s0;
    for (; at < end; at += 128, p += 4) {
      const value = v128.load32_splat(p);
      s0 = f32x4.add(s0, part<T>(f32x4.sub(v128.load(at), value)));
      s1 = f32x4.add(s1, part<T>(f32x4.sub(v128.load(at, 16), value)));
      s2 = f32x4.add(s2, part<T>(f32x4.sub(v128.load(at, 32), value)));
      s3 = f32x4.add(s3, part<T>(f32x4.sub(v128.load(at, 48), value)));
      s4 = f32x4.add(s4, part<T>(f32x4.sub(v128.load(at, 64), value)));
      s5 = f32x4.add(s5, part<T>(f32x4.sub(v128.load(at, 80), value)));
      s6 = f32x4.add(s6, part<T>(f32x4.sub(v128.load(at, 96), value)));
      s7 = f32x4.add(s7, part<T>(f32x4.sub(v128.load(at, 112), value)));
    }
    const nearest = f32x4.min(
      f32x4.min(f32x4.min(s0, s1), f32x4.min(s2, s3)),
      f32x4.min(f32x4.min(s4, s5), f32x4.min(s6, s7)),
    );
    if (!v128.any_true(f32x4.le(nearest, limits))) continue;
    const row = b << 5;
    out = write(s0, limits, row, out);
    out = write(s1, limits, row + 4, out);
    out = write(s2, limits, row + 8, out);
    out = write(s3, limits, row + 12, out);
    out = write(s4, limits, row + 16, out);
    out = write(s5, limits, row + 20, out);
    out = write(s6, limits, row + 24, out);
    out = write(s7, limits, row + 28, out);
  }
  store<i32>(state, <i32>out);
  return b;
}

/** Returns the block at which the room ended, or `to`; `state` gets the end of what was written. No boxes: 0. */
export function squares(
  point: usize,
  blocks: usize,
  boxes: usize,
  columns: i32,
  from: i32,
  to: i32,
  limit: f32,
  out: usize,
  outEnd: usize,
  state: usize,
): i32 {
  return known<f32>(point, blocks, boxes, columns, from, to, limit, out, outEnd, state);
}

export function absolutes(
  point: usize,
  blocks: usize,
  boxes: usize,
  columns: i32,
  from: i32,
  to: i32,
  limit: f32,
  out: usize,
  outEnd: usize,
  state: usize,
): i32 {
  return known<i32>(point, blocks, boxes, columns, from, to, limit, out, outEnd, state);
}

/** Sum over columns that both know, by how much of all columns that is; too little of it is nobody. */
@inline
function gapped<T>(
  point: usize,
  chosen: usize,
  weights: usize,
  count: i32,
  blocks: usize,
  columns: i32,
  from: i32,
  to: i32,
  all: f32,
  enough: f32,
  limit: f32,
  out: usize,
  outEnd: usize,
  state: usize,
): i32 {
  const limits = f32x4.splat(limit);
  const whole = f32x4.splat(all);
  const least = f32x4.splat(enough);
  const nobody = f32x4.splat(Infinity);
  const size = (<usize>columns) << 8;
  let b = from;
  for (; b < to; b++) {
    if (out > outEnd) break;
    const begin = blocks + <usize>b * size;
    // Sixteen at a time: sums and what they are of must stay in registers.
    for (let half: usize = 0; half < 2; half++) {
      let s0 = f32x4.splat(0);
      let s1 = s0;
      let s2 = s0;
      let s3 = s0;
      let c0 = s0;
      let c1 = s0;
      let c2 = s0;
      let c3 = s0;
      for (let k = 0; k < count; k++) {
        const j = load<i32>(chosen + (<usize>k << 2));
        const at = begin + (<usize>j << 8) + (half << 6);
        const value = v128.load32_splat(point + (<usize>j << 2));
        const weight = v128.load32_splat(weights + (<usize>j << 2));
        const k0 = v128.load(at, 128);
        const k1 = v128.load(at, 144);
        const k2 = v128.load(at, 160);
        const k3 = v128.load(at, 176);
        s0 = f32x4.add(s0, f32x4.mul(k0, part<T>(f32x4.sub(v128.load(at), value))));
        s1 = f32x4.add(s1, f32x4.mul(k1, part<T>(f32x4.sub(v128.load(at, 16), value))));
        s2 = f32x4.add(s2, f32x4.mul(k2, part<T>(f32x4.sub(v128.load(at, 32), value))));
        s3 = f32x4.add(s3, f32x4.mul(k3, part<T>(f32x4.sub(v128.load(at, 48), value))));
        c0 = f32x4.add(c0, f32x4.mul(k0, weight));
        c1 = f32x4.add(c1, f32x4.mul(k1, weight));
        c2 = f32x4.add(c2, f32x4.mul(k2, weight));
        c3 = f32x4.add(c3, f32x4.mul(k3, weight));
      }
      s0 = v128.bitselect(f32x4.div(f32x4.mul(s0, whole), c0), nobody, f32x4.ge(c0, least));
      s1 = v128.bitselect(f32x4.div(f32x4.mul(s1, whole), c1), nobody, f32x4.ge(c1, least));
      s2 = v128.bitselect(f32x4.div(f32x4.mul(s2, whole), c2), nobody, f32x4.ge(c2, least));
      s3 = v128.bitselect(f32x4.div(f32x4.mul(s3, whole), c3), nobody, f32x4.ge(c3, least));
      const nearest = f32x4.min(f32x4.min(s0, s1), f32x4.min(s2, s3));
      if (!v128.any_true(f32x4.le(nearest, limits))) continue;
      const row = (b << 5) + (<i32>half << 4);
      out = write(s0, limits, row, out);
      out = write(s1, limits, row + 4, out);
      out = write(s2, limits, row + 8, out);
      out = write(s3, limits, row + 12, out);
    }
  }
  store<i32>(state, <i32>out);
  return b;
}

export function gappedSquares(
  point: usize,
  chosen: usize,
  weights: usize,
  count: i32,
  blocks: usize,
  columns: i32,
  from: i32,
  to: i32,
  all: f32,
  enough: f32,
  limit: f32,
  out: usize,
  outEnd: usize,
  state: usize,
): i32 {
  return gapped<f32>(point, chosen, weights, count, blocks, columns, from, to, all, enough, limit, out, outEnd, state);
}

export function gappedAbsolutes(
  point: usize,
  chosen: usize,
  weights: usize,
  count: i32,
  blocks: usize,
  columns: i32,
  from: i32,
  to: i32,
  all: f32,
  enough: f32,
  limit: f32,
  out: usize,
  outEnd: usize,
  state: usize,
): i32 {
  return gapped<i32>(point, chosen, weights, count, blocks, columns, from, to, all, enough, limit, out, outEnd, state);
}
