import { useMemo } from 'react';
import type { Model } from '@rook-scale/core/model';
import { ChartFrame, type LineConfiguration } from '../../../components/index.ts';
import { dotsOf, dotSet, ruleSet } from './dots.ts';

interface Props {
  predicted: Float64Array;
  observed: Float64Array;
  outcome: Model['outcome'];
}

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
  const { dots, least, greatest } = dotsOf(predicted, (_, i) => observed[i]);
  const inUnit = unit ? `, ${unit}` : '';
  return {
    type: 'line',
    data: {
      datasets: [
        dotSet(dots),
        ruleSet([
          { x: least, y: least },
          { x: greatest, y: greatest },
        ]),
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
