// Compiled to WebAssembly by `npm run kernels`; not part of the TypeScript program.
//
// A network of layers, trained by batches of 32 patients that stand side by side: of each unit 32 numbers in
// a row. Parameters of a layer stand unit by unit, its constant first, then one weight a unit of the layer
// before.

import { exponential } from './exponentials.as';

const BATCH: i32 = 32;
const ROW: usize = 256;

// Places in the table of i32 that says where everything is.
const SIZES: usize = 64;

@inline
function at(table: usize, place: i32): usize {
  return <usize>load<i32>(table + (<usize>place << 2));
}

@inline
function sizeOf(table: usize, layer: i32): i32 {
  return load<i32>(table + SIZES + (<usize>layer << 2));
}

/** 1 - 2 / (e^2z + 1). */
@inline
function bent(z: v128, c: usize): v128 {
  const one = f64x2.splat(1);
  const e = exponential(f64x2.add(z, z), c);
  return f64x2.sub(one, f64x2.div(f64x2.splat(2), f64x2.add(e, one)));
}

/** Sums of the units of a layer for 32 patients, bent where it is a hidden one. */
function layer(weights: usize, before: i32, units: i32, from: usize, to: usize, hidden: bool, c: usize): void {
  for (let u = 0; u < units; u++) {
    for (let half: usize = 0; half < ROW; half += 128) {
      let s0 = v128.load64_splat(weights);
      let s1 = s0;
      let s2 = s0;
      let s3 = s0;
      let s4 = s0;
      let s5 = s0;
      let s6 = s0;
      let s7 = s0;
      let x = from + half;
      let w = weights + 8;
      for (let j = 0; j < before; j++, x += ROW, w += 8) {
        const by = v128.load64_splat(w);
        s0 = f64x2.add(s0, f64x2.mul(by, v128.load(x)));
        s1 = f64x2.add(s1, f64x2.mul(by, v128.load(x, 16)));
        s2 = f64x2.add(s2, f64x2.mul(by, v128.load(x, 32)));
        s3 = f64x2.add(s3, f64x2.mul(by, v128.load(x, 48)));
        s4 = f64x2.add(s4, f64x2.mul(by, v128.load(x, 64)));
        s5 = f64x2.add(s5, f64x2.mul(by, v128.load(x, 80)));
        s6 = f64x2.add(s6, f64x2.mul(by, v128.load(x, 96)));
        s7 = f64x2.add(s7, f64x2.mul(by, v128.load(x, 112)));
      }
      const out = to + half;
      v128.store(out, hidden ? bent(s0, c) : s0);
      v128.store(out, hidden ? bent(s1, c) : s1, 16);
      v128.store(out, hidden ? bent(s2, c) : s2, 32);
      v128.store(out, hidden ? bent(s3, c) : s3, 48);
      v128.store(out, hidden ? bent(s4, c) : s4, 64);
      v128.store(out, hidden ? bent(s5, c) : s5, 80);
      v128.store(out, hidden ? bent(s6, c) : s6, 96);
      v128.store(out, hidden ? bent(s7, c) : s7, 112);
    }
    weights += (<usize>before + 1) << 3;
    to += ROW;
  }
}

/** Adds for each unit what each weight of it should change by. */
function slopes(gradient: usize, before: i32, units: i32, from: usize, errors: usize): void {
  for (let u = 0; u < units; u++, errors += ROW) {
    let even = f64x2.splat(0);
    for (let b: usize = 0; b < ROW; b += 16) even = f64x2.add(even, v128.load(errors + b));
    add(gradient, even);
    gradient += 8;
    let x = from;
    for (let j = 0; j < before; j++, x += ROW, gradient += 8) {
      let one = f64x2.splat(0);
      let other = one;
      for (let b: usize = 0; b < ROW; b += 32) {
        one = f64x2.add(one, f64x2.mul(v128.load(errors + b), v128.load(x + b)));
        other = f64x2.add(other, f64x2.mul(v128.load(errors + b, 16), v128.load(x + b, 16)));
      }
      add(gradient, f64x2.add(one, other));
    }
  }
}

@inline
function add(to: usize, both: v128): void {
  store<f64>(to, load<f64>(to) + f64x2.extract_lane(both, 0) + f64x2.extract_lane(both, 1));
}

/** Errors of the units of a hidden layer from those of the next. */
function backwards(weights: usize, before: i32, units: i32, errors: usize, said: usize, to: usize): void {
  const one = f64x2.splat(1);
  const step = (<usize>before + 1) << 3;
  for (let j = 0; j < before; j++, said += ROW, to += ROW) {
    for (let b: usize = 0; b < ROW; b += 32) {
      let w = weights + 8 + (<usize>j << 3);
      let e = errors + b;
      let s0 = f64x2.splat(0);
      let s1 = s0;
      for (let u = 0; u < units; u++, w += step, e += ROW) {
        const by = v128.load64_splat(w);
        s0 = f64x2.add(s0, f64x2.mul(by, v128.load(e)));
        s1 = f64x2.add(s1, f64x2.mul(by, v128.load(e, 16)));
      }
      const a0 = v128.load(said + b);
      const a1 = v128.load(said + b, 16);
      v128.store(to + b, f64x2.mul(s0, f64x2.sub(one, f64x2.mul(a0, a0))));
      v128.store(to + b, f64x2.mul(s1, f64x2.sub(one, f64x2.mul(a1, a1))), 16);
    }
  }
}

/** Of up to 32 patients: what the network says, from their rows. Kind 0 is an event, 1 levels, 2 a number. */
function forward(table: usize, order: usize, count: i32, c: usize): void {
  const layers = <i32>at(table, 0);
  const kind = <i32>at(table, 1);
  const rows = at(table, 2);
  const inputs = sizeOf(table, 0);
  const x = at(table, 6);
  for (let b = 0; b < BATCH; b++) {
    const to = x + (<usize>b << 3);
    if (b < count) {
      let row = rows + ((<usize>load<i32>(order + (<usize>b << 2)) * <usize>inputs) << 3);
      for (let j = 0; j < inputs; j++, row += 8) store<f64>(to + <usize>j * ROW, load<f64>(row));
    } else for (let j = 0; j < inputs; j++) store<f64>(to + <usize>j * ROW, 0);
  }
  let from = x;
  let weights = at(table, 5);
  for (let l = 1; l <= layers; l++) {
    const before = sizeOf(table, l - 1);
    const units = sizeOf(table, l);
    const to = from + <usize>before * ROW;
    layer(weights, before, units, from, to, l < layers, c);
    weights += (<usize>(units * (before + 1))) << 3;
    from = to;
  }
  const outputs = sizeOf(table, layers);
  const one = f64x2.splat(1);
  if (kind === 0)
    for (let b: usize = 0; b < ROW; b += 16)
      v128.store(
        from + b,
        f64x2.div(one, f64x2.add(one, exponential(f64x2.neg(v128.load(from + b)), c))),
      );
  if (kind === 1)
    for (let b: usize = 0; b < ROW; b += 16) {
      let most = v128.load(from + b);
      for (let u = 1; u < outputs; u++) most = f64x2.max(most, v128.load(from + <usize>u * ROW + b));
      let total = f64x2.splat(0);
      for (let u = 0; u < outputs; u++) {
        const place = from + <usize>u * ROW + b;
        const e = exponential(f64x2.sub(v128.load(place), most), c);
        v128.store(place, e);
        total = f64x2.add(total, e);
      }
      for (let u = 0; u < outputs; u++) {
        const place = from + <usize>u * ROW + b;
        v128.store(place, f64x2.div(v128.load(place), total));
      }
    }
}

/** Where the outputs stand. */
@inline
function outputsAt(table: usize): usize {
  const layers = <i32>at(table, 0);
  let from = at(table, 6);
  for (let l = 0; l < layers; l++) from += <usize>sizeOf(table, l) * ROW;
  return from;
}

/** Writes of each patient the share that what happened was given, or how far off a number is, squared. */
export function given(table: usize, order: usize, count: i32, to: usize, c: usize): void {
  const kind = <i32>at(table, 1);
  const outcome = at(table, 3);
  const outputs = outputsAt(table);
  for (let begin = 0; begin < count; begin += BATCH) {
    const some = min(BATCH, count - begin);
    const own = order + (<usize>begin << 2);
    forward(table, own, some, c);
    for (let b = 0; b < some; b++) {
      const y = load<f64>(outcome + (<usize>load<i32>(own + (<usize>b << 2)) << 3));
      const lane = outputs + (<usize>b << 3);
      const first = load<f64>(lane);
      let value: f64;
      if (kind === 0) value = y === 1 ? first : 1 - first;
      else if (kind === 1) value = load<f64>(lane + <usize>(<i32>y) * ROW);
      else value = (first - y) * (first - y);
      store<f64>(to + (<usize>(begin + b) << 3), value);
    }
  }
}

/** Adds to the gradient what these up to 32 patients say, each by weight over how many they are. */
function gradients(table: usize, order: usize, count: i32, c: usize): void {
  forward(table, order, count, c);
  const layers = <i32>at(table, 0);
  const kind = <i32>at(table, 1);
  const outcome = at(table, 3);
  const patients = at(table, 4);
  const outputs = sizeOf(table, layers);
  let said = outputsAt(table);
  let errors = at(table, 7);
  const share = 1 / <f64>count;
  for (let b = 0; b < BATCH; b++) {
    const lane = <usize>b << 3;
    if (b >= count) {
      for (let u = 0; u < outputs; u++) store<f64>(errors + <usize>u * ROW + lane, 0);
      continue;
    }
    const row = <usize>load<i32>(order + (<usize>b << 2)) << 3;
    const y = load<f64>(outcome + row);
    const weight = share * load<f64>(patients + row);
    for (let u = 0; u < outputs; u++) {
      const wanted = kind === 1 ? <f64>(<i32>y === u) : y;
      store<f64>(
        errors + <usize>u * ROW + lane,
        weight * (load<f64>(said + <usize>u * ROW + lane) - wanted),
      );
    }
  }
  // From the last layer to the first: parameters and gradients end where the last layer's end.
  let weights = at(table, 5) + (at(table, 10) << 3);
  let gradient = at(table, 8) + (at(table, 10) << 3);
  for (let l = layers; l > 0; l--) {
    const before = sizeOf(table, l - 1);
    const units = sizeOf(table, l);
    const size = (<usize>(units * (before + 1))) << 3;
    weights -= size;
    gradient -= size;
    const from = said - <usize>before * ROW;
    slopes(gradient, before, units, from, errors);
    if (l > 1) {
      const next = errors + <usize>units * ROW;
      backwards(weights, before, units, errors, from, next);
      errors = next;
    }
    said = from;
  }
}

/** The gradient of the mean loss of all of them; with decay, which no constant has. */
export function gradientOf(table: usize, order: usize, count: i32, c: usize): void {
  memory.fill(at(table, 8), 0, at(table, 10) << 3);
  gradients(table, order, count, c);
}

/**
 * One pass over patients in this order, with a step of Adam after each batch (Kingma & Ba 2015).
 *
 * @param decays of each parameter, how much it is drawn towards none
 * @param steps taken before; the rate falls from `rate` to `last` along the pass
 */
export function pass(
  table: usize,
  order: usize,
  count: i32,
  decays: usize,
  rate: f64,
  last: f64,
  firstPower: f64,
  secondPower: f64,
  c: usize,
): void {
  const size = <i32>at(table, 10);
  const theta = at(table, 5);
  const gradient = at(table, 8);
  const moments = at(table, 9);
  const second = moments + (<usize>size << 3);
  for (let begin = 0; begin < count; begin += BATCH) {
    const some = min(BATCH, count - begin);
    memory.fill(gradient, 0, <usize>size << 3);
    gradients(table, order + (<usize>begin << 2), some, c);
    firstPower *= 0.9;
    secondPower *= 0.999;
    const now = rate + (last - rate) * (<f64>begin / <f64>count);
    const length = now / (1 - firstPower);
    const spread = 1 / (1 - secondPower);
    for (let k: usize = 0; k < <usize>size << 3; k += 8) {
      const g = load<f64>(gradient + k) + load<f64>(decays + k) * load<f64>(theta + k);
      const m = 0.9 * load<f64>(moments + k) + 0.1 * g;
      const v = 0.999 * load<f64>(second + k) + 0.001 * g * g;
      store<f64>(moments + k, m);
      store<f64>(second + k, v);
      store<f64>(theta + k, load<f64>(theta + k) - (length * m) / (sqrt(v * spread) + 1e-8));
    }
  }
}
