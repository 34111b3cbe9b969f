import { useMemo } from 'react';
import {
  costCurve,
  costPerThousand,
  referenceCost,
  type CostPoint,
  type ErrorCosts,
  thin,
} from '@rook-scale/core/measures';
import { showCost } from '../../browser/format.ts';
import { showDigits, showExact, showFixed } from '../../browser/numbers.ts';
import { ChartFrame, type LineConfiguration } from '../../components/index.ts';
import type { Patients, ScoreScale } from '../risk-scale/index.ts';

interface Props {
  patients: Patients;
  costs: ErrorCosts;
  cutoff: number;
}

/** What the errors cost at every cutoff, beside the cheaper of calling everybody and nobody. */
export function CostChart({ patients, costs, cutoff }: Props) {
  const { missedCost, falseAlarmCost } = costs;
  const points = useMemo(
    () => costCurve(patients.ranked, { missedCost, falseAlarmCost }),
    [patients, missedCost, falseAlarmCost],
  );
  const reference = referenceCost(patients.ranked, costs);
  const { scale } = patients;
  const ends = useMemo(() => usefulEnds(points, scale), [points, scale]);
  const configuration = useMemo(
    () => costConfiguration(points, reference, ends, scale),
    [points, reference, ends, scale],
  );
  const cost = costPerThousand(patients.ranked, cutoff, costs);
  const mark = useMemo(
    () => ({ x: Math.max(ends.from, Math.min(cutoff, ends.to)), y: cost, upright: true }),
    [cutoff, cost, ends],
  );
  const saved = reference - cost;
  return (
    <ChartFrame
      title="Cost per 1,000"
      caption={`At ${patients.scale.show(cutoff)} the errors cost ${showCost(cost)} per 1,000 patients, ${showCost(Math.abs(saved))} ${saved >= 0 ? 'less' : 'more'} than the reference (dashed).`}
      configuration={configuration}
      numbers={() => [
        ['cutoff', 'cost per 1,000'],
        ...points.map((point) => [scale.read(point.cutoff), point.cost]),
      ]}
      fileName="cost"
      mark={mark}
    />
  );
}

interface Ends {
  from: number;
  to: number;
}

/** Numbers have the ends of their ruler; of risks the axis ends where next to nobody is called in any more, on a whole tenth. */
function usefulEnds(points: CostPoint[], { what, from, to }: ScoreScale): Ends {
  if (what === 'number') return { from, to };
  const risks = points.slice(0, -1).map((point) => point.cutoff);
  return { from, to: Math.min(1, Math.max(0.2, Math.ceil(10 * (risks.at(-1) ?? 1)) / 10)) };
}

function costConfiguration(
  points: CostPoint[],
  reference: number,
  { from, to }: Ends,
  scale: ScoreScale,
): LineConfiguration {
  const most = Math.max(...points.map((point) => point.cost), reference);
  const within = (cutoff: number) => Math.max(from, Math.min(cutoff, to));
  const drawn = thin(points, ({ cutoff, cost }) => [
    (within(cutoff) - from) / (to - from),
    cost / most,
  ]);
  return {
    type: 'line',
    data: {
      datasets: [
        {
          data: drawn.map(({ cutoff, cost }) => ({ x: within(cutoff), y: cost })),
          borderColor: '#171a21',
          borderWidth: 1.5,
          pointRadius: 0,
          pointHitRadius: 6,
        },
        {
          data: [
            { x: from, y: reference },
            { x: to, y: reference },
          ],
          borderColor: '#5b3fa0',
          borderWidth: 1.5,
          borderDash: [4, 3],
          pointRadius: 0,
          pointHitRadius: 0,
        },
      ],
    },
    options: {
      scales: {
        x: {
          type: 'linear',
          min: from,
          max: to,
          title: { text: 'cutoff' },
          ticks: {
            maxTicksLimit: 6,
            ...(scale.what === 'number' && {
              callback: (value) => showExact(scale.read(Number(value))),
            }),
          },
        },
        y: { type: 'linear', min: 0, title: { text: 'cost' }, ticks: { maxTicksLimit: 6 } },
      },
      plugins: {
        tooltip: {
          displayColors: false,
          callbacks: {
            title: () => '',
            label: ({ parsed }) =>
              `cutoff ${scale.what === 'number' ? showDigits(scale.read(parsed.x!), 4) : showFixed(parsed.x, 3)}: cost ${showCost(parsed.y!)}`,
          },
        },
      },
    },
  };
}
