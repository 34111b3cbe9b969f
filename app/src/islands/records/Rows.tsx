import { useQuery } from '@tanstack/react-query';
import { useCallback, useMemo, useState } from 'react';
import { display } from '@rook-scale/core/table';
import { cohortRoutes, type CohortInfo } from '../../contract/cohorts.ts';
import { useAddress } from '../../browser/address.ts';
import { ask } from '../../browser/api.ts';
import { plural, showCount } from '../../browser/format.ts';
import {
  Button,
  CellText,
  Name,
  Notice,
  VirtualTable,
  type VirtualColumn,
} from '../../components/index.ts';
import styles from './Records.module.css';

const askRows = (cohort: CohortInfo, where: string, from: number, count: number) =>
  ask(
    cohortRoutes.rows,
    { cohort: cohort.id },
    { query: { from, count, ...(where && { where }) } },
  );

/** The patients one by one; all of them, or those in whom a condition holds. */
export function Rows({ cohort }: { cohort: CohortInfo }) {
  const [row] = useAddress('row');
  const [where = '', setWhere] = useAddress('where');
  const columns = useMemo(() => rowColumns(cohort), [cohort]);
  const { data, error } = useQuery({
    queryKey: ['rows where', cohort.id, cohort.version, where],
    queryFn: () => askRows(cohort, where, 0, 1),
    enabled: where !== '',
    retry: false,
    meta: { lasting: true },
  });
  const fetchRows = useCallback(
    async (from: number, count: number) => {
      const { places, rows } = await askRows(cohort, where, from, count);
      return rows.map((cells, i) => [showCount(places[i] + 1), ...cells]);
    },
    [cohort, where],
  );
  const first = row && !where ? Number(row) - 1 : undefined;
  const total = where ? data?.total : cohort.rowCount;
  return (
    <>
      <Where key={where} where={where} total={data?.total} onChange={setWhere} />
      {error && <Notice>{error.message}</Notice>}
      {total === 0 && <p>The condition holds in nobody.</p>}
      {total !== undefined && total > 0 && (
        <VirtualTable
          label={`Rows of ${cohort.name}`}
          rowCount={total}
          columns={columns}
          fetchRows={fetchRows}
          cell={(cells, i) =>
            i === 0 ? cells[0] : <CellText entry={cohort.dictionary[i - 1]} cell={cells[i]} />
          }
          cacheKey={[cohort.id, String(cohort.version), where]}
          startAt={first}
          rowClass={(_, index) => (index === first ? styles.asked : undefined)}
        />
      )}
    </>
  );
}

interface WhereProps {
  where: string;
  total: number | undefined;
  onChange: (where: string | undefined) => void;
}

function Where({ where, total, onChange }: WhereProps) {
  const [text, setText] = useState(where);
  return (
    <form
      className={styles.where}
      onSubmit={(event) => {
        event.preventDefault();
        onChange(text.trim() || undefined);
      }}
    >
      <label>
        Patients in whom
        <input
          value={text}
          placeholder="age < 18 or not known(creatinine)"
          spellCheck={false}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      <Button type="submit">Show them</Button>
      {where && (
        <Button look="link" onClick={() => onChange(undefined)}>
          all patients
        </Button>
      )}
      {where && total !== undefined && <span role="status">{plural(total, 'patient')}</span>}
    </form>
  );
}

function rowColumns(cohort: CohortInfo): VirtualColumn[] {
  return [
    { key: 'row', head: 'Row', width: 64, figures: true },
    ...cohort.dictionary.map((entry) => ({
      key: entry.name,
      head: <Name text={entry.unit ? `${display(entry)}, ${entry.unit}` : display(entry)} />,
      width: entry.kind === 'number' || entry.kind === 'yes/no' ? 104 : 132,
      figures: entry.kind === 'number',
    })),
  ];
}
