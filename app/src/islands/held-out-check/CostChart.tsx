import { useMemo } from 'react';
import {
  costCurve,
  costPerThousand,
  referenceCost,
  type CostPoint,
  type ErrorCosts,
  type ErrorTable,
} from '@rook-scale/core/measures';
import { showCost } from '../../browser/format.ts';
import { ChartFrame, type LineConfiguration } from '../../components/index.ts';
import type { Patients } from '../risk-scale/index.ts';
import { thin } from './thin.ts';

interface Props {
  patients: Patients;
  costs: ErrorCosts;
  cutoff: number;
  table: ErrorTable;
}

/** What the errors cost at every cutoff, beside the cheaper of calling everybody and nobody. */
export function CostChart({ patients, costs, cutoff, table }: Props) {
  const { missedCost, falseAlarmCost } = costs;
  const points = useMemo(
    () => costCurve(patients.ranked, { missedCost, falseAlarmCost }),
    [patients, missedCost, falseAlarmCost],
  );
  const reference = referenceCost(patients.ranked.patients, patients.ranked.events, costs);
  const widest = useMemo(() => usefulWidth(points), [points]);
  const configuration = useMemo(
    () => costConfiguration(points, reference, widest),
    [points, reference, widest],
  );
  const cost = costPerThousand(table, costs);
  const mark = useMemo(
    () => ({ x: Math.min(cutoff, widest), y: cost, upright: true }),
    [cutoff, cost, widest],
  );
  const saved = reference - cost;
  return (
    <ChartFrame
      title="Cost per 1,000"
      caption={`At ${patients.scale.show(cutoff)} the errors cost ${showCost(cost)} per 1,000 patients, ${showCost(Math.abs(saved))} ${saved >= 0 ? 'less' : 'more'} than the reference (dashed).`}
      configuration={configuration}
      numbers={() => [
        ['cutoff', 'cost per 1,000'],
        ...points.map((point) => [point.cutoff, point.cost]),
      ]}
      fileName="cost"
      mark={mark}
    />
  );
}

/** The axis ends where next to nobody is called in any more, on a whole tenth. */
function usefulWidth(points: CostPoint[]): number {
  const risks = points.slice(0, -1).map((point) => point.cutoff);
  return Math.min(1, Math.max(0.2, Math.ceil(10 * (risks.at(-1) ?? 1)) / 10));
}

function costConfiguration(
  points: CostPoint[],
  reference: number,
  widest: number,
): LineConfiguration {
  const most = Math.max(...points.map((point) => point.cost), reference);
  const drawn = thin(points, ({ cutoff, cost }) => [cutoff / widest, cost / most]);
  return {
    type: 'line',
    data: {
      datasets: [
        {
          data: drawn.map(({ cutoff, cost }) => ({ x: Math.min(cutoff, widest), y: cost })),
          borderColor: '#171a21',
          borderWidth: 1.5,
          pointRadius: 0,
          pointHitRadius: 6,
        },
        {
          data: [
            { x: 0, y: reference },
            { x: widest, y: reference },
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
          min: 0,
          max: widest,
          title: { text: 'cutoff' },
          ticks: { maxTicksLimit: 6 },
        },
        y: { type: 'linear', min: 0, title: { text: 'cost' }, ticks: { maxTicksLimit: 6 } },
      },
      plugins: {
        tooltip: {
          displayColors: false,
          callbacks: {
            title: () => '',
            label: ({ parsed }) => `cutoff ${parsed.x!.toFixed(3)}: cost ${showCost(parsed.y!)}`,
          },
        },
      },
    },
  };
}
