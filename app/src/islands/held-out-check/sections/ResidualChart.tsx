import { useMemo } from 'react';
import type { NumberAgreement } from '@rook-scale/core/measures';
import { ChartFrame, type LineConfiguration } from '../../../components/index.ts';
import { dotsOf, dotSet, ruleSet } from './dots.ts';

interface Props {
  predicted: Float64Array;
  observed: Float64Array;
  found: NumberAgreement;
  unit: string;
}

/** Predicted less observed against predicted, with the mean and the limits of agreement. */
export function ResidualChart({ predicted, observed, found, unit }: Props) {
  const configuration = useMemo(
    () => residualConfiguration(predicted, observed, found, unit),
    [predicted, observed, found, unit],
  );
  return (
    <ChartFrame
      title="Errors against predicted"
      caption="Predicted less observed; the dashed lines are the mean and the limits between which 95 of 100 lie. Where errors fan out or bend, the model misses something."
      configuration={configuration}
      numbers={() => [
        ['predicted', 'predicted less observed'],
        ...Array.from(predicted, (value, i) => [value, value - observed[i]]),
      ]}
      fileName="errors-against-predicted"
    />
  );
}

function residualConfiguration(
  predicted: Float64Array,
  observed: Float64Array,
  { bias, limits }: NumberAgreement,
  unit: string,
): LineConfiguration {
  const { dots, least, greatest } = dotsOf(predicted, (value, i) => value - observed[i]);
  const inUnit = unit ? `, ${unit}` : '';
  return {
    type: 'line',
    data: {
      datasets: [
        dotSet(dots),
        ...[bias, limits.lower, limits.upper].map(({ value = 0 }) =>
          ruleSet([
            { x: least, y: value },
            { x: greatest, y: value },
          ]),
        ),
      ],
    },
    options: {
      scales: {
        x: { type: 'linear', title: { text: `predicted${inUnit}` } },
        y: { type: 'linear', title: { text: `error${inUnit}` } },
      },
      plugins: {
        tooltip: {
          displayColors: false,
          callbacks: {
            label: ({ parsed }) =>
              `predicted ${Number(parsed.x!.toPrecision(4))}, off by ${Number(parsed.y!.toPrecision(4))}`,
          },
        },
      },
    },
  };
}
