import { useMemo } from 'react';
import type { Model } from '@rook-scale/core/model';
import { ChartFrame } from '../../../components/index.ts';
import { dotsAgainst } from './dots.ts';

interface Props {
  predicted: Float64Array;
  observed: Float64Array;
  outcome: Model['outcome'];
}

/** Observed against predicted numbers, with the line where both are the same. */
export function ObservedChart({ predicted, observed, outcome }: Props) {
  const configuration = useMemo(
    () =>
      dotsAgainst(
        { values: predicted, name: 'predicted', unit: outcome.unit },
        (i) => observed[i],
        [(value) => value],
        { axis: 'observed', dot: 'observed', unit: outcome.unit },
      ),
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
