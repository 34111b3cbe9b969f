import { sha256 } from '@noble/hashes/sha2.js';
import { utf8ToBytes } from '@noble/hashes/utils.js';
import { xoroshiro128plusFromState } from 'pure-rand/generator/xoroshiro128plus';
import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64';
import { firstWordsOf } from './kernels/sha256.ts';

/** A reproducible source of random numbers. */
export interface RandomStream {
  /** Uniform in [0, 1), 53 random bits. */
  uniform(): number;
  /** Standard normal, by the polar method (Marsaglia & Bray 1964). */
  normal(): number;
}

/**
 * The stream called `name` of `seed`. Two names give unrelated streams, so what one part of the
 * work draws never depends on how much another part has drawn, nor on the order of threads.
 */
export function randomStream(seed: number, name: string): RandomStream {
  const words = new DataView(digest(`${seed}|${name}`).buffer);
  const generator = xoroshiro128plusFromState([
    words.getInt32(0),
    words.getInt32(4),
    words.getInt32(8),
    words.getInt32(12),
  ]);
  const uniform = () => uniformFloat64(generator);
  let spare: number | undefined;
  return {
    uniform,
    normal() {
      if (spare !== undefined) {
        const value = spare;
        spare = undefined;
        return value;
      }
      for (;;) {
        const u = 2 * uniform() - 1;
        const v = 2 * uniform() - 1;
        const s = u * u + v * v;
        if (s > 0 && s < 1) {
          const scale = Math.sqrt((-2 * Math.log(s)) / s);
          spare = v * scale;
          return u * scale;
        }
      }
    },
  };
}

/**
 * A number in [0, 1) that depends only on seed, stream and key: sorting patients by it shuffles
 * them in a way that no reordering of the file can change. First 53 bits of SHA-256 (FIPS 180-4)
 * of "seed|name|key". Gives the function of the key: for a million patients it makes nothing anew
 * but the number.
 */
export function orderingNumbers(seed: number, name: string): (key: string) => number {
  const wordsOf = firstWordsOf(`${seed}|${name}|`);
  return (key) => {
    const [high, low] = wordsOf(key);
    return (high * 2 ** 21 + (low >>> 11)) / 2 ** 53;
  };
}

function digest(text: string): Uint8Array {
  return sha256(utf8ToBytes(text));
}
