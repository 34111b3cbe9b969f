// Compiled to WebAssembly by `npm run kernels`; not part of the TypeScript program.
//
// The log loss of one event as boosting needs it, two patients at a time. Counts are even: rooms are filled
// up with patients whom nobody looks at.

import { exponential } from './exponentials.as';

/**
 * Writes second and first derivative of each patient's loss in the score, and in the place of the score the
 * share that what happened was given.
 *
 * @param cases 1 for cases (u8)
 * @param big rounds to whole multiples of `least` when it is added and taken away
 */
export function slopes(
  scores: usize,
  count: i32,
  cases: usize,
  weights: usize,
  pairs: usize,
  big: f64,
  least: f64,
  c: usize,
): void {
  const one = f64x2.splat(1);
  const bigs = f64x2.splat(big);
  const leasts = f64x2.splat(least);
  const end = scores + ((<usize>count) << 3);
  for (; scores < end; scores += 16, cases += 2, weights += 16, pairs += 32) {
    const e = exponential(f64x2.neg(v128.load(scores)), c);
    const risk = f64x2.div(one, f64x2.add(one, e));
    const both = i32x4(<i32>load<u8>(cases), <i32>load<u8>(cases, 1), 0, 0);
    const isCase = f64x2.convert_low_i32x4_s(both);
    const weight = v128.load(weights);
    const spread = f64x2.mul(f64x2.mul(weight, risk), f64x2.sub(one, risk));
    const second = f64x2.pmax(f64x2.sub(f64x2.add(spread, bigs), bigs), leasts);
    const first = f64x2.sub(f64x2.add(f64x2.mul(weight, f64x2.sub(risk, isCase)), bigs), bigs);
    v128.store(pairs, v128.shuffle<f64>(second, first, 0, 2));
    v128.store(pairs, v128.shuffle<f64>(second, first, 1, 3), 16);
    v128.store(scores, f64x2.abs(f64x2.sub(risk, f64x2.sub(one, isCase))));
  }
}

// Below it a product is made larger by 2^400, which is counted.
const SMALL: f64 = 1e-100;
const LARGER: f64 = reinterpret<f64>(0x58f0000000000000);

/**
 * Multiplies shares, at least 1e-100, into four products: those of patients that are learned from, in turn,
 * and those of the watched. `state` holds the products, then how often each was made larger.
 */
export function multiply(given: usize, count: i32, watched: usize, state: usize): void {
  const one = f64x2.splat(1);
  const small = f64x2.splat(SMALL);
  let learned = v128.load(state);
  let seen = v128.load(state, 16);
  let learnedTimes = v128.load(state, 32);
  let seenTimes = v128.load(state, 48);
  const end = given + ((<usize>count) << 3);
  for (; given < end; given += 16, watched += 2) {
    const share = f64x2.pmax(v128.load(given), small);
    const isWatched = i64x2(-(<i64>load<u8>(watched)), -(<i64>load<u8>(watched, 1)));
    learned = f64x2.mul(learned, v128.bitselect(one, share, isWatched));
    seen = f64x2.mul(seen, v128.bitselect(share, one, isWatched));
    const learnedSmall = f64x2.lt(learned, small);
    const seenSmall = f64x2.lt(seen, small);
    if (v128.any_true(v128.or(learnedSmall, seenSmall))) {
      const larger = f64x2.splat(LARGER);
      learned = f64x2.mul(learned, v128.bitselect(larger, one, learnedSmall));
      seen = f64x2.mul(seen, v128.bitselect(larger, one, seenSmall));
      learnedTimes = f64x2.add(learnedTimes, v128.and(one, learnedSmall));
      seenTimes = f64x2.add(seenTimes, v128.and(one, seenSmall));
    }
  }
  v128.store(state, learned);
  v128.store(state, seen, 16);
  v128.store(state, learnedTimes, 32);
  v128.store(state, seenTimes, 48);
}
