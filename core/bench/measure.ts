import { cases } from './cases.ts';

export interface Measured {
  name: string;
  /** Median of the repetitions, in milliseconds. */
  median: number;
  least: number;
  greatest: number;
}

/** Each case once to warm up and then five times. */
export function measureCore(): Measured[] {
  return cases.map(({ name, prepare }) => {
    const run = prepare();
    run();
    const times = Array.from({ length: 5 }, () => {
      const begun = performance.now();
      run();
      return performance.now() - begun;
    }).sort((a, b) => a - b);
    return { name, median: times[2], least: times[0], greatest: times[4] };
  });
}
