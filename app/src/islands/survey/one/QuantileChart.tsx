import { useMemo } from 'react';
import type { OneNumber } from '@rook-scale/core/survey';
import { showFixed } from '../../../browser/numbers.ts';
import { ChartFrame, type FigureConfiguration } from '../../../components/index.ts';
import { plainColour } from '../marks.ts';
import type { Axis } from './OneNumber.tsx';

/** Ordered values against normal quantiles: on the line where they are normal. */
export function QuantileChart({ view, axis }: { view: OneNumber; axis: Axis }) {
  const { quantiles, description } = view;
  const configuration = useMemo(() => configure(view, axis), [view, axis]);
  return (
    <ChartFrame
      title="Quantiles against normal"
      caption={sayTails(description.skewness)}
      configuration={configuration}
      numbers={() => [
        ['normal quantile', axis.name],
        ...quantiles.points.map(({ normal, value }) => [normal, value]),
      ]}
      fileName="quantiles"
      height={200}
    />
  );
}

function sayTails(skewness: number | undefined): string {
  if (skewness === undefined) return 'The values do not vary.';
  if (skewness > 1) return 'The upper tail is longer than that of a normal distribution.';
  if (skewness < -1) return 'The lower tail is longer than that of a normal distribution.';
  return 'Points on the line are as a normal distribution would have them; the line passes through the quartiles.';
}

function configure({ quantiles }: OneNumber, axis: Axis): FigureConfiguration {
  const { points, intercept, slope } = quantiles;
  const ends = [points[0].normal, points[points.length - 1].normal];
  return {
    type: 'scatter',
    data: {
      datasets: [
        {
          type: 'line',
          data: ends.map((x) => ({ x, y: intercept + slope * x })),
          borderColor: '#171a21',
          borderWidth: 1,
          pointRadius: 0,
          pointHitRadius: 0,
        },
        {
          type: 'scatter',
          data: points.map(({ normal, value }) => ({ x: normal, y: value })),
          pointRadius: 2,
          borderColor: plainColour,
          backgroundColor: '#ffffff',
          borderWidth: 1,
        },
      ],
    },
    options: {
      scales: {
        x: { type: 'linear', title: { text: 'normal quantile' }, ticks: { maxTicksLimit: 7 } },
        y: {
          type: 'linear',
          title: { text: axis.name },
          ticks: { maxTicksLimit: 6, callback: (value) => axis.show(Number(value)) },
        },
      },
      plugins: {
        tooltip: {
          displayColors: false,
          callbacks: {
            label: ({ parsed }) =>
              `${axis.show(parsed.y ?? 0)} at normal quantile ${showFixed(parsed.x ?? 0, 2)}`,
          },
        },
      },
    },
  };
}
