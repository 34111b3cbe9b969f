// Compiled to WebAssembly by `npm run kernels`; not part of the TypeScript program.
//
// Grows one tree of a random forest. Each patient has a pair: weight, and weight times value. At each node
// some inputs are tried, drawn anew, and the best way to part the patients by squared distances is taken.
// Where what lies is written at the start of the task, see `forest-tree.ts`; bins of those who lack an
// input stand behind all others.

const FEW: i32 = 32;
const SAME: f64 = 1e-10;

// What the best split found so far is.
let bestGain: f64 = 0;
let bestColumn: i32 = -1;
let bestUpTo: i32 = 0;
let bestNext: i32 = 0;
let bestGapsLeft: i32 = 0;

// Of the task.
let patients: usize = 0;
let codes: usize = 0;
let binsOf: usize = 0;
let kinds: usize = 0;
let rows: usize = 0;
let spare: usize = 0;
let pairs: usize = 0;
let sums: usize = 0;
let keys: usize = 0;
let goes: usize = 0;
let mask: usize = 0;
let random: usize = 0;
let leastLeaf: f64 = 0;

// Of the node.
let from: i32 = 0;
let to: i32 = 0;
let weight: f64 = 0;
let likeness: f64 = 0;
let margin: f64 = 0;

/** Gives how many nodes the tree has. @param count patients that are learned from, the first of `rows` */
export function grow(task: usize, count: i32): i32 {
  patients = load<i32>(task);
  const width = load<i32>(task, 4);
  codes = load<i32>(task, 8);
  binsOf = load<i32>(task, 12);
  kinds = load<i32>(task, 16);
  rows = load<i32>(task, 20);
  spare = load<i32>(task, 24);
  pairs = load<i32>(task, 28);
  sums = load<i32>(task, 32);
  keys = load<i32>(task, 36);
  const order: usize = load<i32>(task, 40);
  goes = load<i32>(task, 44);
  const nodes: usize = load<i32>(task, 48);
  const masks: usize = load<i32>(task, 52);
  const stack: usize = load<i32>(task, 56);
  random = load<i32>(task, 60);
  const depthMost = load<i32>(task, 64);
  const tries = load<i32>(task, 68);
  mask = load<i32>(task, 72);
  const gains: usize = load<i32>(task, 76);
  leastLeaf = load<f64>(task, 80);
  const isShare = load<i32>(task, 88) === 1;
  let made = 1;
  let maskEnd: i32 = 0;
  let top = stack;
  store<i32>(top, 0);
  store<i32>(top, 0, 4);
  store<i32>(top, count, 8);
  store<i32>(top, 0, 12);
  top += 16;
  while (top > stack) {
    top -= 16;
    const node = nodes + <usize>load<i32>(top) * 24;
    from = load<i32>(top, 4);
    to = load<i32>(top, 8);
    const depth = load<i32>(top, 12);
    let total: f64 = 0;
    weight = 0;
    for (let i = from; i < to; i++) {
      const pair = pairs + ((<usize>load<i32>(rows + ((<usize>i) << 2))) << 4);
      weight += load<f64>(pair);
      total += load<f64>(pair, 8);
    }
    bestGain = 0;
    bestColumn = -1;
    const isPure = isShare && (total === 0 || total === weight);
    if (depth < depthMost && to - from > 1 && weight >= 2 * leastLeaf && !isPure) {
      likeness = weight > 0 ? (total * total) / weight : 0;
      margin = SAME * abs(likeness);
      let tried = 0;
      for (let i = 0; i < width && (tried < tries || bestColumn < 0); i++) {
        const k = i + below(width - i);
        const one = order + ((<usize>k) << 2);
        const column = load<i32>(one);
        store<i32>(one, load<i32>(order + ((<usize>i) << 2)));
        store<i32>(order + ((<usize>i) << 2), column);
        if (tryColumn(column, total)) tried++;
      }
    }
    if (bestColumn < 0) {
      store<i32>(node, -1);
      store<f64>(node, weight, 8);
      store<f64>(node, total, 16);
      continue;
    }
    const at = gains + ((<usize>bestColumn) << 3);
    store<f64>(at, load<f64>(at) + bestGain);
    const bins = load<i32>(binsOf + ((<usize>bestColumn) << 2));
    const isNumber = load<u8>(kinds + <usize>bestColumn) === 1;
    store<i32>(node, bestColumn);
    store<i32>(node, made, 4);
    store<i32>(node, bestUpTo, 8);
    store<i32>(node, bestNext, 12);
    store<i32>(node, bestGapsLeft | (isNumber ? 0 : 2), 16);
    if (isNumber)
      for (let bin = 0; bin < bins; bin++) store<u8>(goes + <usize>bin, bin <= bestUpTo ? 1 : 0);
    else {
      memory.copy(goes, mask, bins);
      memory.copy(masks + <usize>maskEnd, mask, bins);
      store<i32>(node, maskEnd, 8);
      maskEnd += bins;
    }
    store<u8>(goes + <usize>bins, <u8>bestGapsLeft);
    const middle = part(bestColumn);
    store<i32>(top, made + 1);
    store<i32>(top, middle, 4);
    store<i32>(top, to, 8);
    store<i32>(top, depth + 1, 12);
    store<i32>(top, made, 16);
    store<i32>(top, from, 20);
    store<i32>(top, middle, 24);
    store<i32>(top, depth + 1, 28);
    top += 32;
    made += 2;
  }
  return made;
}

/** xoshiro128** (Blackman & Vigna 2021), one number below a count. */
function below(count: i32): i32 {
  let a = load<u32>(random);
  let b = load<u32>(random, 4);
  let c = load<u32>(random, 8);
  let d = load<u32>(random, 12);
  const result = rotl<u32>(b * 5, 7) * 9;
  const shifted = b << 9;
  c ^= a;
  d ^= b;
  b ^= c;
  a ^= d;
  c ^= shifted;
  d = rotl<u32>(d, 11);
  store<u32>(random, a);
  store<u32>(random, b, 4);
  store<u32>(random, c, 8);
  store<u32>(random, d, 12);
  return <i32>((<u64>result * <u64>count) >> 32);
}

/** Whether the input differs among these patients; if so, its best split is found. */
function tryColumn(column: i32, total: f64): bool {
  const bins = load<i32>(binsOf + ((<usize>column) << 2));
  const own = codes + ((<usize>column * patients) << 1);
  if (load<u8>(kinds + <usize>column) === 0) {
    fill(own, 0, bins);
    return scanLevels(column, bins, total);
  }
  if (to - from <= FEW) return scanFew(column, own, bins, total);
  if (to - from >= bins) {
    fill(own, 0, bins);
    return scanBins(column, 0, bins - 1, bins, total);
  }
  let low = bins;
  let high = -1;
  for (let i = from; i < to; i++) {
    const row = <usize>load<i32>(rows + ((<usize>i) << 2));
    const code = <i32>load<u16>(own + (row << 1));
    low = min(low, code);
    high = max(high, code);
  }
  if (low === high) return false;
  fill(own, low, high);
  if (high < bins) {
    const gap = sums + ((<usize>bins) << 4);
    store<f64>(gap, 0);
    store<f64>(gap, 0, 8);
  }
  return scanBins(column, low, min(high, bins - 1), bins, total);
}

function fill(own: usize, low: i32, high: i32): void {
  memory.fill(sums + ((<usize>low) << 4), 0, (<usize>(high - low + 1)) << 4);
  for (let i = from; i < to; i++) {
    const row = <usize>load<i32>(rows + ((<usize>i) << 2));
    const place = sums + ((<usize>load<u16>(own + (row << 1))) << 4);
    v128.store(place, f64x2.add(v128.load(place), v128.load(pairs + (row << 4))));
  }
}

/** Whether a split that reaches this likeness of both sides together is better; if so, it is kept. */
function consider(a: f64, aTotal: f64, total: f64): bool {
  const b = weight - a;
  if (a < leastLeaf || b < leastLeaf) return false;
  const bTotal = total - aTotal;
  // Most are far from better, which is told without dividing.
  const reached = aTotal * aTotal * b + bTotal * bTotal * a;
  if (reached < (likeness + bestGain) * (a * b) * 0.999999999) return false;
  const gain = (aTotal * aTotal) / a + (bTotal * bTotal) / b - likeness;
  if (!(gain > bestGain + max(margin, SAME * bestGain))) return false;
  bestGain = gain;
  return true;
}

function keep(column: i32, upTo: i32, next: i32, gapsLeft: bool): void {
  bestColumn = column;
  bestUpTo = upTo;
  bestNext = next;
  bestGapsLeft = gapsLeft ? 1 : 0;
}

function scanBins(column: i32, low: i32, high: i32, bins: i32, total: f64): bool {
  const gap = load<f64>(sums + ((<usize>bins) << 4));
  const gapTotal = load<f64>(sums + ((<usize>bins) << 4), 8);
  const hasGaps = gap > 0;
  let left: f64 = 0;
  let leftTotal: f64 = 0;
  let before = -1;
  let different = hasGaps ? 1 : 0;
  for (let bin = low; bin <= high; bin++) {
    const place = sums + ((<usize>bin) << 4);
    const own = load<f64>(place);
    if (own === 0) continue;
    if (before >= 0) {
      if (consider(left, leftTotal, total))
        keep(column, before, bin, !hasGaps && 2 * left >= weight);
      if (hasGaps && consider(left + gap, leftTotal + gapTotal, total))
        keep(column, before, bin, true);
    }
    left += own;
    leftTotal += load<f64>(place, 8);
    before = bin;
    different++;
  }
  if (hasGaps && before >= 0 && consider(left, leftTotal, total)) keep(column, before, bins, false);
  return different > 1;
}

/** Few patients are put in order, which costs less than going through bins. */
function scanFew(column: i32, own: usize, bins: i32, total: f64): bool {
  const count = to - from;
  let known = 0;
  let gap: f64 = 0;
  let gapTotal: f64 = 0;
  for (let i = 0; i < count; i++) {
    const row = <usize>load<i32>(rows + ((<usize>(from + i)) << 2));
    const code = <i32>load<u16>(own + (row << 1));
    if (code === bins) {
      gap += load<f64>(pairs + (row << 4));
      gapTotal += load<f64>(pairs + (row << 4), 8);
      continue;
    }
    const key = (code << 8) | i;
    let at = keys + ((<usize>known) << 2);
    for (; at > keys && load<i32>(at - 4) > key; at -= 4) store<i32>(at, load<i32>(at - 4));
    store<i32>(at, key);
    known++;
  }
  if (known === 0) return false;
  const isSame = load<i32>(keys) >> 8 === load<i32>(keys + ((<usize>(known - 1)) << 2)) >> 8;
  if (known === count && isSame) return false;
  const hasGaps = gap > 0;
  let left: f64 = 0;
  let leftTotal: f64 = 0;
  let before = -1;
  for (let i = 0; i < known; i++) {
    const key = load<i32>(keys + ((<usize>i) << 2));
    const code = key >> 8;
    if (before >= 0 && code !== before) {
      if (consider(left, leftTotal, total))
        keep(column, before, code, !hasGaps && 2 * left >= weight);
      if (hasGaps && consider(left + gap, leftTotal + gapTotal, total))
        keep(column, before, code, true);
    }
    const row = <usize>load<i32>(rows + ((<usize>(from + (key & 255))) << 2));
    left += load<f64>(pairs + (row << 4));
    leftTotal += load<f64>(pairs + (row << 4), 8);
    before = code;
  }
  if (hasGaps && before >= 0 && consider(left, leftTotal, total)) keep(column, before, bins, false);
  return true;
}

/** Levels in the order of their means, which holds the best way to part them (Fisher 1958). */
function scanLevels(column: i32, bins: i32, total: f64): bool {
  let there = 0;
  for (let bin = 0; bin < bins; bin++) {
    const place = sums + ((<usize>bin) << 4);
    if (load<f64>(place) === 0) continue;
    const mean = load<f64>(place, 8) / load<f64>(place);
    let at = keys + ((<usize>there) << 2);
    for (; at > keys; at -= 4) {
      const other = sums + ((<usize>load<i32>(at - 4)) << 4);
      if (load<f64>(other, 8) / load<f64>(other) <= mean) break;
      store<i32>(at, load<i32>(at - 4));
    }
    store<i32>(at, bin);
    there++;
  }
  const gap = load<f64>(sums + ((<usize>bins) << 4));
  const gapTotal = load<f64>(sums + ((<usize>bins) << 4), 8);
  const hasGaps = gap > 0;
  let left: f64 = 0;
  let leftTotal: f64 = 0;
  for (let i = 1; i <= there; i++) {
    const place = sums + ((<usize>load<i32>(keys + ((<usize>(i - 1)) << 2))) << 4);
    left += load<f64>(place);
    leftTotal += load<f64>(place, 8);
    if (i === there && !hasGaps) break;
    if (consider(left, leftTotal, total)) {
      keep(column, 0, 0, !hasGaps && 2 * left >= weight);
      keepLevels(bins, i);
    }
    if (i < there && hasGaps && consider(left + gap, leftTotal + gapTotal, total)) {
      keep(column, 0, 0, true);
      keepLevels(bins, i);
    }
  }
  return there + (hasGaps ? 1 : 0) > 1;
}

function keepLevels(bins: i32, count: i32): void {
  memory.fill(mask, 0, bins);
  for (let i = 0; i < count; i++) store<u8>(mask + <usize>load<i32>(keys + ((<usize>i) << 2)), 1);
}

/** Puts those first who go left. Gives where the others begin. */
function part(column: i32): i32 {
  const own = codes + ((<usize>column * patients) << 1);
  let left = rows + ((<usize>from) << 2);
  const first = left;
  let right = spare;
  const end = rows + ((<usize>to) << 2);
  for (let at = left; at < end; at += 4) {
    const row = load<i32>(at);
    const toLeft = <usize>load<u8>(goes + <usize>load<u16>(own + ((<usize>row) << 1)));
    store<i32>(left, row);
    store<i32>(right, row);
    left += toLeft << 2;
    right += (1 - toLeft) << 2;
  }
  memory.copy(left, spare, right - spare);
  return from + <i32>((left - first) >> 2);
}
