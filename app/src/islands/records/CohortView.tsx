import { useCallback, useMemo, useState } from 'react';
import { display } from '@rook-scale/core/table';
import { get } from '../../browser/api.ts';
import { plural, showCount, showMoment, showPercent, showSize } from '../../browser/format.ts';
import { VirtualTable, type VirtualColumn } from '../../components/index.ts';
import type { CohortInfo } from '../../server/cohorts.ts';
import { PageBody } from '../frame/index.ts';
import type { MarginNote } from '../margin/index.ts';
import { DictionaryTable } from './DictionaryTable.tsx';
import { MendButton } from './MendButton.tsx';
import styles from './Records.module.css';

type View = 'dictionary' | 'rows';

/** A cohort that is stored: its dictionary and its rows. */
export function CohortView({
  cohort,
  onMend,
}: {
  cohort: CohortInfo;
  onMend: () => Promise<void>;
}) {
  const [view, setView] = useState<View>(() =>
    typeof location !== 'undefined' && location.hash === '#rows' ? 'rows' : 'dictionary',
  );
  const open = (next: View) => {
    history.replaceState(null, '', `#${next}`);
    setView(next);
  };
  return (
    <PageBody
      title="Records"
      fact={`${cohort.name}: ${plural(cohort.rowCount, 'patient')}, ${plural(cohort.dictionary.length, 'column')}`}
      notes={cohortNotes(cohort)}
      actions={
        <>
          <div className={styles.tabs} role="group" aria-label="What to show">
            <button
              type="button"
              aria-pressed={view === 'dictionary'}
              onClick={() => open('dictionary')}
            >
              Dictionary
            </button>
            <button type="button" aria-pressed={view === 'rows'} onClick={() => open('rows')}>
              Rows
            </button>
          </div>
          <MendButton onMend={onMend} />
        </>
      }
    >
      {view === 'dictionary' ? <DictionaryTable cohort={cohort} /> : <Rows cohort={cohort} />}
    </PageBody>
  );
}

function Rows({ cohort }: { cohort: CohortInfo }) {
  const columns = useMemo(() => rowColumns(cohort), [cohort]);
  const fetchRows = useCallback(
    async (from: number, count: number) =>
      (
        await get<{ rows: string[][] }>(
          `/api/cohorts/${cohort.id}/rows?from=${from}&count=${count}`,
        )
      ).rows.map((cells, i) => [showCount(from + i + 1), ...cells]),
    [cohort.id],
  );
  return (
    <VirtualTable
      label={`Rows of ${cohort.name}`}
      rowCount={cohort.rowCount}
      columns={columns}
      fetchRows={fetchRows}
      cell={(row, i) => row[i] || <span title="Not known">·</span>}
      cacheKey={[cohort.id, String(cohort.version)]}
    />
  );
}

function rowColumns(cohort: CohortInfo): VirtualColumn[] {
  return [
    { key: 'row', head: 'Row', width: 64, figures: true },
    ...cohort.dictionary.map((entry) => ({
      key: entry.name,
      head: (
        <span title={display(entry)}>
          {entry.unit ? `${display(entry)}, ${entry.unit}` : display(entry)}
        </span>
      ),
      width: entry.kind === 'number' || entry.kind === 'yes/no' ? 104 : 132,
      figures: entry.kind === 'number',
    })),
  ];
}

function cohortNotes(cohort: CohortInfo): MarginNote[] {
  const { file, dictionary, summaries, rowCount } = cohort;
  const empty = dictionary.filter((_, i) => summaries[i].missing > 0.6 * rowCount);
  const notes: MarginNote[] = [
    {
      id: 'file',
      title: file.name,
      text: (
        <>
          {showSize(file.size)}, brought in {showMoment(cohort.createdAt)}. The file is kept as it
          came; SHA-256 begins with <span className="figures">{file.sha256.slice(0, 12)}</span>.
        </>
      ),
    },
  ];
  if (empty.length > 0)
    notes.push({
      id: 'mostly-empty',
      title: 'Mostly empty',
      text: `${empty
        .map(
          (entry) =>
            `${display(entry)} (${showPercent(summaries[dictionary.indexOf(entry)].missing / rowCount)})`,
        )
        .join(', ')} not known in most patients.`,
    });
  return notes;
}
