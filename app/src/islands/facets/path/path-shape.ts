import type { PathShown } from '@rook-scale/core/families';

/** A predictor's way: coefficients per SD of it, from strong to weak. */
export interface Way {
  input: string;
  perSd: number[];
}

/** The ways of one level, or of the one that there is. */
export const waysOf = ({ lines }: PathShown, level: number): Way[] =>
  lines.map(({ input, deviation, ways }) => ({
    input,
    perSd: ways[level].map((value) => value * deviation),
  }));

/**
 * Names at the ends of the longest ways, none nearer to another than a line of text.
 *
 * @param y where a coefficient stands
 */
export function namesAtEnds(
  ways: Way[],
  y: (value: number) => number,
  lineHeight: number,
): { input: string; y: number; at: number }[] {
  const ends = ways
    .map(({ input, perSd }) => ({ input, value: perSd[perSd.length - 1] }))
    .filter(({ value }) => value !== 0)
    .sort((one, other) => Math.abs(other.value) - Math.abs(one.value));
  const named: { input: string; y: number; at: number }[] = [];
  for (const { input, value } of ends) {
    const at = y(value);
    if (named.every((other) => Math.abs(other.at - at) >= lineHeight))
      named.push({ input, y: at, at });
  }
  return named;
}

/** Ends of a scale that holds all of these and none. */
export function scaleOf(values: number[]): { from: number; to: number } {
  const [from, to] = [Math.min(0, ...values), Math.max(0, ...values)];
  const room = (to - from) * 0.04 || 1;
  return { from: from < 0 ? from - room : 0, to: to + room };
}

/** Powers of ten, with 2 and 5 between where there is room, from the weakest to the strongest. */
export function strengthTicks(strengths: number[]): number[] {
  const [most, least] = [strengths[0], strengths[strengths.length - 1]];
  const decades = Math.log10(most / least);
  const steps = decades > 3 ? [1] : decades > 1.2 ? [1, 3] : [1, 2, 3, 5, 7];
  const ticks: number[] = [];
  for (let power = Math.floor(Math.log10(least)); power <= Math.log10(most); power++)
    for (const step of steps) {
      const tick = Number(`${step}e${power}`);
      if (tick >= least && tick <= most) ticks.push(tick);
    }
  return ticks;
}
