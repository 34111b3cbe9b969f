import { useCallback, useMemo } from 'react';
import { display } from '@rook-scale/core/table';
import { setAddress } from '../../browser/address.ts';
import { get } from '../../browser/api.ts';
import { showRisk } from '../../browser/format.ts';
import { CellText, Name, VirtualTable, type VirtualColumn } from '../../components/index.ts';
import type { CohortInfo } from '../../server/cohorts/index.ts';
import type { ScreenedRow, ScreeningView } from '../../server/screenings/index.ts';
import styles from './CallInList.module.css';

interface Props {
  view: ScreeningView;
  cohort: CohortInfo;
  cutoff: number;
  /** How many are called in at the cutoff. */
  called: number;
}

/** Everyone by risk, highest first, with the line where the cutoff falls. */
export function CallInList({ view, cohort, cutoff, called }: Props) {
  const order = useMemo(() => columnOrder(cohort, view), [cohort, view]);
  const columns = useMemo(() => listColumns(cohort, order), [cohort, order]);
  const fetchRows = useCallback(
    async (from: number, count: number) =>
      (
        await get<{ rows: ScreenedRow[] }>(
          `/api/screenings/${view.id}/rows?from=${from}&count=${count}`,
        )
      ).rows,
    [view.id],
  );
  return (
    <VirtualTable
      label={`Call-in list, ${cohort.name}`}
      rowCount={view.rowCount}
      columns={columns}
      fetchRows={fetchRows}
      onRow={(row) => setAddress({ view: 'patient', list: cohort.id, row: String(row.row) })}
      cacheKey={[view.id, String(view.createdAt)]}
      rowClass={(_, index) =>
        index === called - 1 ? styles.last : index >= called ? styles.alone : undefined
      }
      cell={(row, i) => {
        if (i === 0) return row.rank;
        if (i === 1)
          return row.risk === null ? 'not scored' : row.risk >= cutoff ? 'call in' : 'leave alone';
        if (i === 2) return row.risk === null ? '–' : <Risk row={row} />;
        return <CellText entry={cohort.dictionary[order[i - 3]]} cell={row.cells[order[i - 3]]} />;
      }}
    />
  );
}

/** The risk, marked where it rests on what hardly any development patient had. */
function Risk({ row }: { row: ScreenedRow }) {
  if (row.unfamiliar.length === 0) return showRisk(row.risk!);
  const why = `Rests on what hardly any development patient had: ${row.unfamiliar.join(', ')}`;
  return (
    <span className={styles.strange} title={why}>
      <span aria-hidden="true">? </span>
      {showRisk(row.risk!)}
      <span className="hidden"> {why}</span>
    </span>
  );
}

/** Identifier first, then what the model uses, then the rest. */
function columnOrder(cohort: CohortInfo, view: ScreeningView): number[] {
  const used = new Set(view.predictors.map((predictor) => predictor.name));
  const weight = (i: number) => {
    const entry = cohort.dictionary[i];
    if (entry.role === 'identifier') return 0;
    return used.has(entry.name) ? 1 : 2;
  };
  return cohort.dictionary.map((_, i) => i).sort((a, b) => weight(a) - weight(b) || a - b);
}

function listColumns(cohort: CohortInfo, order: number[]): VirtualColumn[] {
  return [
    { key: 'rank', head: 'Rank', width: 60, figures: true },
    { key: 'call', head: 'Call', width: 92 },
    { key: 'risk', head: 'Risk', width: 88, figures: true },
    ...order.map((place) => {
      const entry = cohort.dictionary[place];
      const head = entry.unit ? `${display(entry)}, ${entry.unit}` : display(entry);
      return {
        key: entry.name,
        head: <Name text={head} />,
        width: entry.kind === 'number' || entry.kind === 'yes/no' ? 118 : 132,
        figures: entry.kind === 'number',
      };
    }),
  ];
}
