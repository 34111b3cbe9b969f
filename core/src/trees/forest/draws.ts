/** Whole random numbers for draws that are many and need not be related to anything else. */
export interface Draws {
  /** Uniform among 0 to count - 1, for counts up to 2^21. */
  below(count: number): number;
  /** Uniform in [0, 1), 32 random bits. */
  share(): number;
}

/** Four words that a generator begins from, made from a counter that is mixed, as its authors advise. */
export function wordsFrom(seed: number, purpose: number): [number, number, number, number] {
  let state = (seed ^ Math.imul(purpose + 1, 0x9e3779b1)) | 0;
  const word = () => {
    state = (state + 0x9e3779b9) | 0;
    let mixed = Math.imul(state ^ (state >>> 16), 0x85ebca6b);
    mixed = Math.imul(mixed ^ (mixed >>> 13), 0xc2b2ae35);
    return mixed ^ (mixed >>> 16);
  };
  return [word(), word(), word(), word() | 1];
}

/** xoshiro128** of Blackman & Vigna 2021 (ACM Transactions on Mathematical Software 47:36). */
export function drawsFrom(words: [number, number, number, number]): Draws {
  let [a, b, c, d] = words;
  const next = () => {
    const turned = Math.imul(b, 5);
    const result = Math.imul((turned << 7) | (turned >>> 25), 9) >>> 0;
    const shifted = b << 9;
    c ^= a;
    d ^= b;
    b ^= c;
    a ^= d;
    c ^= shifted;
    d = (d << 11) | (d >>> 21);
    return result;
  };
  return {
    below: (count) => Math.floor((next() * count) / 2 ** 32),
    share: () => next() / 2 ** 32,
  };
}
