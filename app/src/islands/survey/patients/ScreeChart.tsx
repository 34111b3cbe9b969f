import { useMemo } from 'react';
import type { PatientMap } from '@rook-scale/core/survey';
import { plural, showPercent } from '../../../browser/format.ts';
import { ChartFrame, type FigureConfiguration } from '../../../components/index.ts';
import { plainColour } from '../marks.ts';
import { wholeTicks } from '../whole-ticks.ts';

const most = 15;

/** How much of the variance each component carries. */
export function ScreeChart({ map }: { map: PatientMap }) {
  const shares = map.shares.slice(0, most);
  const configuration = useMemo(
    (): FigureConfiguration => ({
      type: 'bar',
      data: {
        datasets: [
          {
            data: map.shares.slice(0, most).map((y, i) => ({ x: i + 1, y })),
            backgroundColor: plainColour,
            barPercentage: 0.9,
            categoryPercentage: 0.9,
          },
        ],
      },
      options: {
        scales: {
          x: {
            type: 'linear',
            offset: false,
            min: 0.4,
            max: Math.min(most, map.shares.length) + 0.6,
            grid: { display: false },
            title: { text: 'component' },
            ...wholeTicks(1, Math.min(most, map.shares.length), 8),
          },
          y: {
            type: 'linear',
            min: 0,
            title: { display: false },
            ticks: { maxTicksLimit: 4, callback: (value) => showPercent(Number(value)) },
          },
        },
      },
    }),
    [map],
  );
  const half = halfReached(map.shares);
  return (
    <ChartFrame
      title="Variance carried"
      caption={`${plural(half, 'component')} ${half === 1 ? 'carries' : 'carry'} half of the variance.`}
      configuration={configuration}
      numbers={() => [['component', 'share'], ...shares.map((share, i) => [i + 1, share])]}
      fileName="variance-carried"
      height={120}
    />
  );
}

function halfReached(shares: number[]): number {
  let sum = 0;
  for (const [i, share] of shares.entries()) {
    sum += share;
    if (sum >= 0.5) return i + 1;
  }
  return shares.length;
}
