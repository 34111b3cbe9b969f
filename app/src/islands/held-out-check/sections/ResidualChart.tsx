import { useMemo } from 'react';
import type { NumberAgreement } from '@rook-scale/core/measures';
import { ChartFrame } from '../../../components/index.ts';
import { dotsAgainst } from './dots.ts';

interface Props {
  predicted: Float64Array;
  observed: Float64Array;
  found: NumberAgreement;
  unit: string;
}

/** Predicted less observed against predicted, with the mean and the limits of agreement. */
export function ResidualChart({ predicted, observed, found, unit }: Props) {
  const { bias, limits } = found;
  const configuration = useMemo(
    () =>
      dotsAgainst(
        predicted,
        (value, i) => value - observed[i],
        [bias, limits.lower, limits.upper].map(
          ({ value = 0 }) =>
            () =>
              value,
        ),
        { axis: 'error', dot: 'off by', unit },
      ),
    [predicted, observed, bias, limits, unit],
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
