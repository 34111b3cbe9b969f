import { movings, type Moving } from '@rook-scale/core/design';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { Select } from '../../components/index.ts';

const labels: Record<Moving | 'together', string> = {
  together: 'groups kept together',
  'most frequent': 'in most frequent group',
  first: 'in first group',
  development: 'in development',
};

/** What is done with patients whose rows are of several groups; nothing where no patient has several rows. */
export function MovingSelect<M extends Moving>({
  cohort,
  value,
  offered,
  onChange,
}: {
  cohort: CohortInfo;
  value: M | undefined;
  offered: readonly M[];
  onChange: (moving: M | undefined) => void;
}) {
  if (!cohort.dictionary.some(({ role }) => role === 'identifier')) return null;
  return (
    <Select
      label="Patients in several groups"
      value={value ?? 'together'}
      options={(['together', ...movings] as const)
        .filter((one) => one === 'together' || (offered as readonly string[]).includes(one))
        .map((one) => ({ value: one, label: labels[one] }))}
      onChange={(next) => onChange(next === 'together' ? undefined : (next as M))}
    />
  );
}
