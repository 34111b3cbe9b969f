import { ascendingOrder } from '../numeric/index.ts';
import type { Inputs } from '../inputs/index.ts';

/**
 * Deals patients into folds by their own values, so that neither the order of patients nor that of
 * inputs changes anything, and patients who are alike in everything stay together. Each stratum is
 * dealt evenly.
 *
 * @param strata of each patient; one for all where there is nothing to keep even
 */
export function innerFolds(
  inputs: Inputs,
  strata: ArrayLike<number>,
  outcome: ArrayLike<number>,
  count: number,
  seed: number,
): Uint8Array {
  const keys = keysOf(inputs, outcome, seed);
  const folds = new Uint8Array(inputs.rowCount);
  // Of each stratum: how many different patients were dealt, and whose key was the last.
  const dealt = new Map<number, { count: number; key: number }>();
  for (const row of ascendingOrder(keys)) {
    const before = dealt.get(strata[row]);
    const isAlike = before?.key === keys[row];
    const place = before ? before.count - Number(isAlike) : 0;
    folds[row] = place % count;
    dealt.set(strata[row], { count: place + 1, key: keys[row] });
  }
  return folds;
}

/**
 * Patients in an order that follows from their own values and the seed, not from where they stand:
 * whoever is drawn by their place in it is the same in any order of the table.
 */
export function stableOrder(inputs: Inputs, outcome: ArrayLike<number>, seed: number): Int32Array {
  return ascendingOrder(keysOf(inputs, outcome, seed));
}

/** A number for each patient that follows from all of the values and the seed. */
function keysOf(
  { rowCount, names, columns }: Inputs,
  outcome: ArrayLike<number>,
  seed: number,
): Float64Array {
  const high = new Uint32Array(rowCount);
  const low = new Uint32Array(rowCount);
  const double = new Float64Array(1);
  const words = new Uint32Array(double.buffer);
  const add = (name: string, values: ArrayLike<number>) => {
    let salt = seed | 0;
    for (let i = 0; i < name.length; i++) salt = Math.imul(salt ^ name.charCodeAt(i), 0x01000193);
    for (let row = 0; row < rowCount; row++) {
      // Adding zero makes -0 the same as 0.
      double[0] = values[row] + 0;
      const once = mixed(words[0] ^ salt, words[1]);
      high[row] += once;
      low[row] += mixed(once ^ words[1], salt ^ words[0]);
    }
  };
  names.forEach((name, j) => add(name, columns[j]));
  add('', outcome);
  return Float64Array.from(high, (word, row) => (word & 0x1fffff) * 2 ** 32 + low[row]);
}

/** The finisher of MurmurHash3 (Appleby, public domain; from memory). */
function mixed(a: number, b: number): number {
  let hash = Math.imul(a, 0x85ebca6b) ^ Math.imul(b, 0xc2b2ae35);
  hash ^= hash >>> 16;
  hash = Math.imul(hash, 0x85ebca6b);
  hash ^= hash >>> 13;
  hash = Math.imul(hash, 0xc2b2ae35);
  return (hash ^ (hash >>> 16)) >>> 0;
}
