import type { LineConfiguration } from '../../../components/index.ts';

interface Dot {
  x: number;
  y: number;
}
type DataSet = LineConfiguration['data']['datasets'][number];

/** So many dots are drawn at most; more would be one cloud. */
const most = 3000;

/**
 * A dot a patient against what was predicted, of many every so-manieth, with lines to compare them with.
 *
 * @param up what stands upwards, of each patient
 * @param rules what each line says at a predicted number; straight from end to end
 * @param names of what stands upwards: on the axis, and before its figure where a dot is pointed at
 */
export function dotsAgainst(
  predicted: Float64Array,
  up: (value: number, i: number) => number,
  rules: ((value: number) => number)[],
  names: { axis: string; dot: string; unit: string },
): LineConfiguration {
  const every = Math.ceil(predicted.length / most);
  const dots: Dot[] = [];
  let [least, greatest] = [Infinity, -Infinity];
  predicted.forEach((value, i) => {
    least = Math.min(least, value);
    greatest = Math.max(greatest, value);
    if (i % every === 0) dots.push({ x: value, y: up(value, i) });
  });
  const inUnit = names.unit ? `, ${names.unit}` : '';
  const short = (value: number) => Number(value.toPrecision(4));
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
        x: { type: 'linear', title: { text: `predicted${inUnit}` } },
        y: { type: 'linear', title: { text: `${names.axis}${inUnit}` } },
      },
      plugins: {
        tooltip: {
          displayColors: false,
          callbacks: {
            label: ({ parsed }) =>
              `predicted ${short(parsed.x!)}, ${names.dot} ${short(parsed.y!)}`,
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
