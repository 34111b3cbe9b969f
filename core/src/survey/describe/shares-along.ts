import { silverman, smoothAt, spreadOut } from './density.ts';

/** The share of each level along the values of a number. */
export interface SharesAlong {
  /** Even grid over the known values, from least to greatest. */
  at: number[];
  /** `shares[level][i]` at `at[i]`; the levels add up to 1. */
  shares: number[][];
  /** Patients that count at each point, by kernel weight. */
  weight: number[];
}

/**
 * Share of the levels near each value: kernel-weighted means of the level's indicator (Nadaraya
 * 1964, Theory of Probability & Its Applications 9:141-142; Watson 1964, Sankhyā A 26:359-372) with
 * the bandwidth of the density. Undefined when the values do not vary.
 *
 * @param codes level of each value, -1 where not known
 */
export function sharesAlong(
  values: Float64Array,
  codes: ArrayLike<number>,
  levels: number,
  points = 96,
): SharesAlong | undefined {
  const byLevel: number[][] = Array.from({ length: levels }, () => []);
  const all: number[] = [];
  for (let i = 0; i < values.length; i++) {
    if (Number.isNaN(values[i]) || codes[i] < 0) continue;
    byLevel[codes[i]].push(values[i]);
    all.push(values[i]);
  }
  const sorted = Float64Array.from(all).sort();
  const bandwidth = silverman(sorted);
  if (bandwidth === undefined) return undefined;
  const [least, greatest] = [sorted[0], sorted[sorted.length - 1]];
  const grid = 512;
  const fine = (greatest - least) / (grid - 1);
  const masses = byLevel.map((mine) => spreadOut(mine, least, fine, grid));
  const places = Array.from({ length: points }, (_, i) => (i * (grid - 1)) / (points - 1));
  const smoothed = places.map((place) =>
    masses.map((mass) => smoothAt(mass, place, bandwidth / fine)),
  );
  const weight = smoothed.map((parts) => parts.reduce((sum, part) => sum + part, 0));
  return {
    at: places.map((place) => least + place * fine),
    shares: byLevel.map((_, level) =>
      smoothed.map((parts, i) => (weight[i] > 0 ? parts[level] / weight[i] : NaN)),
    ),
    weight,
  };
}
