import { useMemo, useState } from 'react';
import type { NumberAgreement } from '@rook-scale/core/measures';
import type { Column } from '@rook-scale/core/table';
import { messageOf } from '../../../browser/api.ts';
import { useDictionary } from '../../../browser/dictionary.ts';
import { ChartFrame, Notice, Select } from '../../../components/index.ts';
import { dotsAgainst, type Across } from './dots.ts';
import type { SectionProps } from './section.ts';
import { canStandAgainst, useHeldOutColumn } from './use-column.ts';

interface Props {
  of: SectionProps;
  predicted: Float64Array;
  observed: Float64Array;
  found: NumberAgreement;
  unit: string;
}

/** Predicted less observed against predicted or any column, with the mean and the limits of agreement. */
export function ResidualChart({ of, predicted, observed, found, unit }: Props) {
  const { bias, limits } = found;
  const { dictionary, labelOf } = useDictionary(of.studyId);
  const [name, setName] = useState('');
  const { data: column, error } = useHeldOutColumn(of, name || undefined);
  const ownUnit = dictionary.find((entry) => entry.name === name)?.unit ?? '';
  const label = name ? labelOf(name) : 'predicted';
  const across = useMemo(
    (): Across | undefined =>
      name
        ? column && acrossColumn(column, label, ownUnit)
        : { values: predicted, name: 'predicted', unit },
    [name, column, label, ownUnit, predicted, unit],
  );
  const configuration = useMemo(
    () =>
      dotsAgainst(
        across ?? { values: new Float64Array(0), name: label, unit: '' },
        (i) => predicted[i] - observed[i],
        [bias, limits.lower, limits.upper].map(
          ({ value = 0 }) =>
            () =>
              value,
        ),
        { axis: 'error', dot: 'off by', unit },
      ),
    [across, label, predicted, observed, bias, limits, unit],
  );
  const columns = dictionary.filter(canStandAgainst);
  return (
    <div>
      <ChartFrame
        title="Errors against"
        controls={
          <Select
            label="Errors against"
            quietLabel
            value={name}
            options={[
              { value: '', label: 'predicted' },
              ...columns.map((entry) => ({ value: entry.name, label: labelOf(entry.name) })),
            ]}
            onChange={setName}
          />
        }
        caption="Predicted less observed; the dashed lines are the mean and the limits between which 95 of 100 lie. Where errors fan out or bend, the model misses something."
        configuration={configuration}
        numbers={() => [
          [label, 'predicted less observed'],
          ...Array.from(predicted, (value, i) => [
            across ? wordAt(across, i) : '',
            value - observed[i],
          ]),
        ]}
        fileName="errors-of-predicted"
      />
      {error && <Notice>{messageOf(error)}</Notice>}
    </div>
  );
}

const wordAt = ({ values, levels, places = values }: Across, i: number): string | number =>
  levels ? (levels[places[i]] ?? '') : values[i];

/** Levels stand beside each other, their patients a little apart; whoever lacks the value is not drawn. */
function acrossColumn(column: Column, name: string, unit: string): Across | undefined {
  if (column.type === 'text') return undefined;
  if (column.type === 'number') return { values: column.values, name, unit };
  const { codes, levels } = column;
  const apart = (i: number) => 0.5 * (((i * 0.618034) % 1) - 0.5);
  return {
    values: Float64Array.from(codes, (code, i) => (code < 0 ? NaN : code + apart(i))),
    places: codes,
    levels,
    ...{ name, unit: '' },
  };
}
