import { useMemo, useState, type ReactNode } from 'react';
import type { NumberAgreement } from '@rook-scale/core/measures';
import type { Column } from '@rook-scale/core/table';
import { messageOf } from '../../../browser/api.ts';
import { useDictionary } from '../../../browser/dictionary.ts';
import { ChartFrame, Notice, Select } from '../../../components/index.ts';
import { dotsAgainst, type Across } from './dots.ts';
import type { SectionProps } from './section.ts';
import { canStandAgainst, useHeldOutColumn } from './use-column.ts';

interface Props {
  /** The held-out patients, where errors can be set against their columns. */
  of: SectionProps | undefined;
  predicted: Float64Array;
  observed: Float64Array;
  found: NumberAgreement;
  unit: string;
}

/** Predicted less observed against predicted or any column, with the mean and the limits of agreement. */
export function ResidualChart({ of, ...numbers }: Props) {
  return of ? <AgainstAny of={of} {...numbers} /> : <AgainstPredicted {...numbers} />;
}

type Numbers = Omit<Props, 'of'>;

function AgainstPredicted(props: Numbers) {
  const { predicted, unit } = props;
  const across = useMemo(
    (): Across => ({ values: predicted, name: 'predicted', unit }),
    [predicted, unit],
  );
  return <ErrorChart {...props} across={across} label="predicted" title="Errors" />;
}

function AgainstAny({ of, ...props }: Numbers & { of: SectionProps }) {
  const { predicted, unit } = props;
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
  const columns = dictionary.filter(canStandAgainst);
  return (
    <div>
      <ErrorChart
        {...props}
        {...{ across, label }}
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
      />
      {error && <Notice>{messageOf(error)}</Notice>}
    </div>
  );
}

function ErrorChart({
  predicted,
  observed,
  found,
  unit,
  across,
  label,
  title,
  controls,
}: Numbers & { across: Across | undefined; label: string; title: string; controls?: ReactNode }) {
  const { bias, limits } = found;
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
  return (
    <ChartFrame
      {...{ title, controls, configuration }}
      caption="Predicted less observed; the dashed lines are the mean and the limits between which 95 of 100 lie. Where errors fan out or bend, the model misses something."
      numbers={() => [
        [label, 'predicted less observed'],
        ...Array.from(predicted, (value, i) => [
          across ? wordAt(across, i) : '',
          value - observed[i],
        ]),
      ]}
      fileName="errors-of-predicted"
    />
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
