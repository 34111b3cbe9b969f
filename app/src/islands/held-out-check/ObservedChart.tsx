import { useMemo } from 'react';
import type { Model } from '@rook-scale/core/model';
import { ChartFrame, type LineConfiguration } from '../../components/index.ts';

interface Props {
  predicted: Float64Array;
  observed: Float64Array;
  outcome: Model['outcome'];
}

/** So many dots are drawn at most; more would be one cloud. */
const mostDots = 3000;

/** Observed against predicted numbers, with the line where both are the same. */
export function ObservedChart({ predicted, observed, outcome }: Props) {
  const configuration = useMemo(
    () => observedConfiguration(predicted, observed, outcome.unit),
    [predicted, observed, outcome.unit],
  );
  return (
    <ChartFrame
      title="Observed against predicted"
      caption="Each dot is a patient; on the dashed line both are the same."
      configuration={configuration}
      numbers={() => [
        ['predicted', 'observed'],
        ...Array.from(predicted, (value, i) => [value, observed[i]]),
      ]}
      fileName="observed-against-predicted"
    />
  );
}

function observedConfiguration(
  predicted: Float64Array,
  observed: Float64Array,
  unit: string,
): LineConfiguration {
  const every = Math.ceil(predicted.length / mostDots);
  const dots: { x: number; y: number }[] = [];
  let [least, greatest] = [Infinity, -Infinity];
  for (let i = 0; i < predicted.length; i++) {
    least = Math.min(least, predicted[i]);
    greatest = Math.max(greatest, predicted[i]);
    if (i % every === 0) dots.push({ x: predicted[i], y: observed[i] });
  }
  const inUnit = unit ? `, ${unit}` : '';
  return {
    type: 'line',
    data: {
      datasets: [
        {
          data: dots,
          showLine: false,
          pointRadius: 2,
          pointHitRadius: 4,
          pointBackgroundColor: '#171a2199',
          pointBorderWidth: 0,
        },
        {
          data: [
            { x: least, y: least },
            { x: greatest, y: greatest },
          ],
          borderColor: '#9aa4b0',
          borderWidth: 1,
          borderDash: [3, 3],
          pointRadius: 0,
          pointHitRadius: 0,
        },
      ],
    },
    options: {
      scales: {
        x: { type: 'linear', title: { text: `predicted${inUnit}` } },
        y: { type: 'linear', title: { text: `observed${inUnit}` } },
      },
      plugins: {
        tooltip: {
          displayColors: false,
          callbacks: {
            label: ({ parsed }) =>
              `predicted ${Number(parsed.x!.toPrecision(4))}, observed ${Number(parsed.y!.toPrecision(4))}`,
          },
        },
      },
    },
  };
}
