import { wilsonInterval, type Interval } from '../../measures/index.ts';

/**
 * Difference of two shares with the 95% interval made of their Wilson intervals: Newcombe (1998),
 * Statistics in Medicine 17:873-890, method 10. Undefined when either group is empty.
 */
export function shareDifference(
  [cases, patients]: [number, number],
  [otherCases, otherPatients]: [number, number],
): { value: number; interval: Interval } | undefined {
  const mine = wilsonInterval(cases, patients);
  const other = wilsonInterval(otherCases, otherPatients);
  if (!mine || !other) return undefined;
  const [p, q] = [cases / patients, otherCases / otherPatients];
  const value = p - q;
  return {
    value,
    interval: [
      value - Math.hypot(p - mine[0], other[1] - q),
      value + Math.hypot(mine[1] - p, q - other[0]),
    ],
  };
}
