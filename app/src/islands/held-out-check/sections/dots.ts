import { roundDigits } from '../../../browser/numbers.ts';
import type { LineConfiguration } from '../../../components/index.ts';

interface Dot {
  x: number;
  y: number;
}
type DataSet = LineConfiguration['data']['datasets'][number];

/** So many dots are drawn at most; more would be one cloud. */
const most = 3000;

/** What stands across, of each patient. */
export interface Across {
  /** Not drawn where not a number. */
  values: Float64Array;
  name: string;
  unit: string;
  /** Where it has levels: their names at 0, 1 …, and who has which. */
  levels?: string[];
  places?: ArrayLike<number>;
}

/**
 * A dot a patient against what was predicted or any column, of many every so-manieth, with lines to
 * compare them with.
 *
 * @param up what stands upwards, of each patient
 * @param rules what each line says at a place across; straight from end to end
 * @param names of what stands upwards: on the axis, and before its figure where a dot is pointed at
 */
export function dotsAgainst(
  { values, name, unit, levels }: Across,
  up: (i: number) => number,
  rules: ((value: number) => number)[],
  names: { axis: string; dot: string; unit: string },
): LineConfiguration {
  const every = Math.ceil(values.length / most);
  const dots: Dot[] = [];
  let [least, greatest] = levels ? [-0.5, levels.length - 0.5] : [Infinity, -Infinity];
  values.forEach((value, i) => {
    if (Number.isNaN(value)) return;
    least = Math.min(least, value);
    greatest = Math.max(greatest, value);
    if (i % every === 0) dots.push({ x: value, y: up(i) });
  });
  const within = (of: string) => (of ? `, ${of}` : '');
  const short = (value: number) => roundDigits(value, 4);
  const word = (value: number) => levels?.[Math.round(value)] ?? short(value);
  return {
    type: 'line',
    data: {
      datasets: [
        dotSet(dots),
        ...rules.map((rule) => ruleSet([least, greatest].map((x) => ({ x, y: rule(x) })))),
      ],
    },
    options: {
      scales: {
        x: {
          type: 'linear',
          title: { text: `${name}${within(unit)}` },
          ...(levels && {
            min: least,
            max: greatest,
            ticks: {
              stepSize: 1,
              callback: (value) => (Number.isInteger(Number(value)) ? levels[Number(value)] : ''),
            },
            afterBuildTicks: (axis) => {
              axis.ticks = levels.map((_, value) => ({ value }));
            },
          }),
        },
        y: { type: 'linear', title: { text: `${names.axis}${within(names.unit)}` } },
      },
      plugins: {
        tooltip: {
          displayColors: false,
          callbacks: {
            label: ({ parsed }) => `${name} ${word(parsed.x!)}, ${names.dot} ${short(parsed.y!)}`,
          },
        },
      },
    },
  };
}

const dotSet = (data: Dot[]): DataSet => ({
  data,
  showLine: false,
  pointRadius: 2,
  pointHitRadius: 4,
  pointBackgroundColor: '#171a2199',
  pointBorderWidth: 0,
});

const ruleSet = (data: Dot[]): DataSet => ({
  data,
  borderColor: '#9aa4b0',
  borderWidth: 1,
  borderDash: [3, 3],
  pointRadius: 0,
  pointHitRadius: 0,
});
