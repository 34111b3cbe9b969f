// Compiled to WebAssembly by `npm run kernels`; not part of the TypeScript program.
//
// How alike a point is to many patients, and the two walks by which a margin is widened. Patients stand in
// blocks of 16, input by input.

import { exponential } from './exponentials.as';

const ROW: usize = 128;

/**
 * Products of a point with each patient; with `squares`, e to the power of -narrowness × squared distance.
 *
 * @param square of the point with itself
 */
export function alike(
  point: usize,
  inputs: i32,
  blocks: usize,
  count: i32,
  to: usize,
  squares: usize,
  square: f64,
  narrowness: f64,
  c: usize,
): void {
  const end = point + ((<usize>inputs) << 3);
  for (let b = 0; b < count; b++, to += ROW) {
    let s0 = f64x2.splat(0);
    let s1 = s0;
    let s2 = s0;
    let s3 = s0;
    let s4 = s0;
    let s5 = s0;
    let s6 = s0;
    let s7 = s0;
    for (let p = point; p < end; p += 8, blocks += ROW) {
      const by = v128.load64_splat(p);
      s0 = f64x2.add(s0, f64x2.mul(by, v128.load(blocks)));
      s1 = f64x2.add(s1, f64x2.mul(by, v128.load(blocks, 16)));
      s2 = f64x2.add(s2, f64x2.mul(by, v128.load(blocks, 32)));
      s3 = f64x2.add(s3, f64x2.mul(by, v128.load(blocks, 48)));
      s4 = f64x2.add(s4, f64x2.mul(by, v128.load(blocks, 64)));
      s5 = f64x2.add(s5, f64x2.mul(by, v128.load(blocks, 80)));
      s6 = f64x2.add(s6, f64x2.mul(by, v128.load(blocks, 96)));
      s7 = f64x2.add(s7, f64x2.mul(by, v128.load(blocks, 112)));
    }
    v128.store(to, s0);
    v128.store(to, s1, 16);
    v128.store(to, s2, 32);
    v128.store(to, s3, 48);
    v128.store(to, s4, 64);
    v128.store(to, s5, 80);
    v128.store(to, s6, 96);
    v128.store(to, s7, 112);
    if (squares === 0) continue;
    const own = f64x2.splat(square);
    const two = f64x2.splat(2);
    const narrow = f64x2.splat(-narrowness);
    for (let k: usize = 0; k < ROW; k += 16) {
      const apart = f64x2.sub(f64x2.add(own, v128.load(squares + k)), f64x2.mul(two, v128.load(to + k)));
      v128.store(to + k, exponential(f64x2.mul(narrow, f64x2.pmax(f64x2.splat(0), apart)), c));
    }
    squares += ROW;
  }
}

/**
 * Moves all pulls by what two variables were moved, and finds the greatest of those that may rise and the
 * least of those that may fall. Writes both, then the place of the greatest; -1 where there is none.
 *
 * @param rises 0 for those that may, else minus infinity
 * @param falls 0 for those that may, else infinity
 */
export function farthest(
  pulls: usize,
  own: usize,
  other: usize,
  rises: usize,
  falls: usize,
  count: i32,
  way: f64,
  to: usize,
): void {
  const by = f64x2.splat(way);
  const step = f64x2.splat(2);
  let most = f64x2.splat(-Infinity);
  let least = f64x2.splat(Infinity);
  let places = f64x2.splat(-1);
  let place = f64x2(0, 1);
  const end = pulls + ((<usize>count) << 3);
  for (; pulls < end; pulls += 16, own += 16, other += 16, rises += 16, falls += 16) {
    const pull = f64x2.sub(
      v128.load(pulls),
      f64x2.mul(by, f64x2.sub(v128.load(own), v128.load(other))),
    );
    v128.store(pulls, pull);
    const high = f64x2.add(pull, v128.load(rises));
    const isMore = f64x2.gt(high, most);
    most = v128.bitselect(high, most, isMore);
    places = v128.bitselect(place, places, isMore);
    least = f64x2.pmin(least, f64x2.add(pull, v128.load(falls)));
    place = f64x2.add(place, step);
  }
  const one = f64x2.extract_lane(most, 0);
  const two = f64x2.extract_lane(most, 1);
  const first = f64x2.extract_lane(places, 0);
  const second = f64x2.extract_lane(places, 1);
  // Of two that are equally far, the one that stands before.
  const isSecond = two > one || (two === one && second < first);
  store<f64>(to, isSecond ? two : one);
  store<f64>(to, min(f64x2.extract_lane(least, 0), f64x2.extract_lane(least, 1)), 8);
  store<f64>(to, isSecond ? second : first, 16);
}

/** The place of the variable with which the objective falls most; -1 where there is none. */
export function partner(
  pulls: usize,
  own: usize,
  selves: usize,
  falls: usize,
  count: i32,
  above: f64,
  self: f64,
  leastBend: f64,
): i32 {
  const top = f64x2.splat(above);
  const same = f64x2.splat(self);
  const two = f64x2.splat(2);
  const flat = f64x2.splat(leastBend);
  const none = f64x2.splat(0);
  const step = f64x2.splat(2);
  let most = none;
  let places = f64x2.splat(-1);
  let place = f64x2(0, 1);
  const end = pulls + ((<usize>count) << 3);
  for (; pulls < end; pulls += 16, own += 16, selves += 16, falls += 16) {
    // Below zero for all that may not fall.
    const apart = f64x2.pmax(none, f64x2.sub(top, f64x2.add(v128.load(pulls), v128.load(falls))));
    const bend = f64x2.sub(f64x2.add(same, v128.load(selves)), f64x2.mul(two, v128.load(own)));
    const gain = f64x2.div(f64x2.mul(apart, apart), f64x2.pmax(flat, bend));
    const isMore = f64x2.gt(gain, most);
    most = v128.bitselect(gain, most, isMore);
    places = v128.bitselect(place, places, isMore);
    place = f64x2.add(place, step);
  }
  const one = f64x2.extract_lane(most, 0);
  const other = f64x2.extract_lane(most, 1);
  const first = f64x2.extract_lane(places, 0);
  const second = f64x2.extract_lane(places, 1);
  return <i32>(other > one || (other === one && second < first) ? second : first);
}
