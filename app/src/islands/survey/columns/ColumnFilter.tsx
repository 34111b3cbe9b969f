import type { ReactNode } from 'react';
import { display, kinds, roles } from '@rook-scale/core/table';
import { readNumber } from '../../../browser/numbers.ts';
import { Button, Select } from '../../../components/index.ts';
import styles from './Columns.module.css';
import type { ColumnLine } from './ColumnsView.tsx';

export interface Filter {
  text: string;
  kind: string;
  role: string;
  /** Which figure is compared; empty for none. */
  figure: string;
  way: 'at least' | 'at most';
  limit: string;
}

export const noFilter: Filter = {
  text: '',
  kind: '',
  role: '',
  figure: '',
  way: 'at least',
  limit: '',
};

const figures: Record<string, { label: string; of: (line: ColumnLine) => number | undefined }> = {
  gaps: {
    label: 'gaps, %',
    of: ({ description, patients }) => (100 * description.missing) / Math.max(1, patients),
  },
  different: { label: 'different values', of: ({ description }) => description.different },
  mean: { label: 'mean', of: ({ description }) => description.numbers?.mean },
  median: { label: 'median', of: ({ description }) => description.numbers?.median },
  skewness: { label: 'skewness', of: ({ description }) => description.numbers?.skewness },
  outliers: { label: 'outliers', of: ({ description }) => description.numbers?.outliers },
  strength: { label: 'AUC or V', of: ({ relation }) => relation?.strength.value },
  information: {
    label: 'information, %',
    of: ({ relation }) => relation && 100 * relation.information,
  },
};

/** Whether a line passes the filter. */
export function keeps(filter: Filter, line: ColumnLine): boolean {
  const { entry } = line;
  const words = filter.text.toLowerCase().split(/\s+/).filter(Boolean);
  const text = `${display(entry)} ${entry.name} ${entry.unit}`.toLowerCase();
  if (!words.every((word) => text.includes(word))) return false;
  if (filter.kind && entry.kind !== filter.kind) return false;
  if (filter.role && entry.role !== filter.role) return false;
  const limit = readNumber(filter.limit);
  if (!filter.figure || filter.limit.trim() === '' || Number.isNaN(limit)) return true;
  const value = figures[filter.figure].of(line);
  if (value === undefined) return false;
  return filter.way === 'at least' ? value >= limit : value <= limit;
}

interface Props {
  filter: Filter;
  onChange: (filter: Filter) => void;
  withRelation: boolean;
  children: ReactNode;
}

/** The line above the overview that narrows it. */
export function ColumnFilter({ filter, onChange, withRelation, children }: Props) {
  const set = (part: Partial<Filter>) => onChange({ ...filter, ...part });
  const option = (value: string) => ({ value, label: value });
  const offered = Object.entries(figures).filter(
    ([name]) => withRelation || (name !== 'strength' && name !== 'information'),
  );
  const narrowed = JSON.stringify(filter) !== JSON.stringify(noFilter);
  return (
    <div className={styles.filter}>
      <input
        type="search"
        aria-label="Find a column"
        placeholder="Find a column"
        value={filter.text}
        onChange={(event) => set({ text: event.target.value })}
      />
      <Select
        label="Kind"
        quietLabel
        value={filter.kind}
        options={[{ value: '', label: 'any kind' }, ...kinds.map(option)]}
        onChange={(kind) => set({ kind })}
      />
      <Select
        label="Role"
        quietLabel
        value={filter.role}
        options={[{ value: '', label: 'any role' }, ...roles.map(option)]}
        onChange={(role) => set({ role })}
      />
      <Select
        label="Figure"
        quietLabel
        value={filter.figure}
        options={[
          { value: '', label: 'any figures' },
          ...offered.map(([value, { label }]) => ({ value, label })),
        ]}
        onChange={(figure) => set({ figure })}
      />
      {filter.figure && (
        <>
          <Select
            label="Way"
            quietLabel
            value={filter.way}
            options={
              [option('at least'), option('at most')] as { value: Filter['way']; label: string }[]
            }
            onChange={(way) => set({ way })}
          />
          <input
            className={styles.limit}
            inputMode="decimal"
            aria-label="Limit"
            value={filter.limit}
            onChange={(event) => set({ limit: event.target.value })}
          />
        </>
      )}
      {narrowed && (
        <Button look="link" onClick={() => onChange(noFilter)}>
          all columns
        </Button>
      )}
      <p className="quiet" role="status">
        {children}
      </p>
    </div>
  );
}
