import type { LineConfiguration } from '../../../components/index.ts';

interface Dot {
  x: number;
  y: number;
}
type DataSet = LineConfiguration['data']['datasets'][number];

/** So many dots are drawn at most; more would be one cloud. */
const most = 3000;

/** A dot a patient, of many every so-manieth, and the ends of the values across. */
export function dotsOf(
  across: Float64Array,
  up: (value: number, i: number) => number,
): { dots: Dot[]; least: number; greatest: number } {
  const every = Math.ceil(across.length / most);
  const dots: Dot[] = [];
  let [least, greatest] = [Infinity, -Infinity];
  across.forEach((value, i) => {
    least = Math.min(least, value);
    greatest = Math.max(greatest, value);
    if (i % every === 0) dots.push({ x: value, y: up(value, i) });
  });
  return { dots, least, greatest };
}

export const dotSet = (data: Dot[]): DataSet => ({
  data,
  showLine: false,
  pointRadius: 2,
  pointHitRadius: 4,
  pointBackgroundColor: '#171a2199',
  pointBorderWidth: 0,
});

/** A line that is only there to be compared with. */
export const ruleSet = (data: Dot[]): DataSet => ({
  data,
  borderColor: '#9aa4b0',
  borderWidth: 1,
  borderDash: [3, 3],
  pointRadius: 0,
  pointHitRadius: 0,
});
