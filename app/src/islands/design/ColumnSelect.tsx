import { display, type DictionaryEntry } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { Select } from '../../components/index.ts';

interface Props {
  label: string;
  value: string;
  cohort: CohortInfo;
  wanted: (entry: DictionaryEntry) => boolean;
  /** What no column is called, where that can be chosen. */
  none?: string;
  onChange: (name: string) => void;
}

/** One column of the cohort. */
export function ColumnSelect({ label, value, cohort, wanted, none, onChange }: Props) {
  const offered = cohort.dictionary.filter(wanted);
  const there = offered.some(({ name }) => name === value);
  return (
    <Select
      label={label}
      value={value}
      options={[
        ...(there && none === undefined ? [] : [{ value: '', label: none ?? 'choose a column' }]),
        // What is chosen is shown, also where the column is not there any more.
        ...(value && !there ? [{ value, label: value }] : []),
        ...offered.map((entry) => ({ value: entry.name, label: display(entry) })),
      ]}
      onChange={onChange}
    />
  );
}
