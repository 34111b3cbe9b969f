import { ascendingOrder, gradesOf } from '../numeric/index.ts';
import type { Inputs } from '../inputs/index.ts';

/**
 * Assigns patients to folds by the ranks of their own values. The order of patients, the order of inputs and
 * the units of inputs and outcome change nothing, and patients with equal values stay together. Folds are
 * balanced within each stratum.
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

/**
 * Range of a column below which two neighbouring values count as one: a column that was rescaled differs from
 * the original by rounding only.
 */
const rounding = 1e-9;

/** Rank of each value among the different values of its column; -1 where it is missing. */
function ranksOf(column: ArrayLike<number>): Int32Array {
  const { values, codes } = gradesOf(column);
  const least = rounding * (values[values.length - 1] - values[0]);
  const ranks = new Int32Array(values.length);
  for (let i = 1; i < values.length; i++)
    ranks[i] = ranks[i - 1] + Number(values[i] - values[i - 1] > least);
  return codes.map((code) => (code < 0 ? -1 : ranks[code]));
}

/** A number for each patient that follows from the ranks of all of the values and from the seed. */
function keysOf(
  { rowCount, names, columns }: Inputs,
  outcome: ArrayLike<number>,
  seed: number,
): Float64Array {
  const high = new Uint32Array(rowCount);
  const low = new Uint32Array(rowCount);
  const add = (name: string, values: ArrayLike<number>) => {
    let salt = seed | 0;
    for (let i = 0; i < name.length; i++) salt = Math.imul(salt ^ name.charCodeAt(i), 0x01000193);
    const ranks = ranksOf(values);
    for (let row = 0; row < rowCount; row++) {
      const once = mixed(ranks[row] ^ salt, ranks[row]);
      high[row] += once;
      low[row] += mixed(once ^ ranks[row], salt ^ ranks[row]);
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
