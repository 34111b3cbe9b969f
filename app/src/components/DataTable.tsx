import { useMemo, useState, type KeyboardEvent, type ReactNode } from 'react';
import { compareKnown } from '../browser/order.ts';
import styles from './DataTable.module.css';

export interface DataColumn<Row> {
  key: string;
  head: ReactNode;
  /** What the head stands for, in full. */
  title?: string;
  cell: (row: Row) => ReactNode;
  /** What the rows are sorted by; a column without it cannot be sorted. */
  sort?: (row: Row) => number | string | undefined;
  /** Figures are set in the mono type at the right. */
  figures?: boolean;
  right?: boolean;
  width?: number;
}

interface Props<Row> {
  /** Read aloud; the page shows its own heading. */
  caption: string;
  columns: DataColumn<Row>[];
  rows: Row[];
  rowKey: (row: Row) => string;
  rowClass?: (row: Row) => string | undefined;
  /** What a click or Enter on a row does. */
  onRow?: (row: Row) => void;
  /** The column sorted by at first, and which way. */
  sortedBy?: { key: string; up: boolean };
  /** Said in place of rows when there are none. */
  empty?: ReactNode;
}

/** A dense table that can be sorted by any of its columns; what is not known stands last. */
export function DataTable<Row>(props: Props<Row>) {
  const { caption, columns, rows, rowKey, rowClass, onRow, sortedBy, empty } = props;
  const [sort, setSort] = useState(sortedBy);
  const sorted = useMemo(() => {
    const by = columns.find(({ key }) => key === sort?.key)?.sort;
    return by && sort ? [...rows].sort((a, b) => compareKnown(by(a), by(b), sort.up)) : rows;
  }, [columns, rows, sort]);
  const turn = (column: DataColumn<Row>) =>
    setSort((now) => {
      if (now?.key !== column.key) return { key: column.key, up: !column.figures };
      // The third press gives back the order the rows came in.
      return now.up === !column.figures ? { key: column.key, up: !now.up } : undefined;
    });
  return (
    <table className={styles.table}>
      <caption className="hidden">{caption}</caption>
      <thead>
        <tr>
          {columns.map((column) => (
            <th
              key={column.key}
              scope="col"
              title={column.title}
              className={column.figures || column.right ? styles.right : undefined}
              style={{ width: column.width }}
              aria-sort={
                sort?.key === column.key ? (sort.up ? 'ascending' : 'descending') : undefined
              }
            >
              {column.sort ? (
                <button type="button" onClick={() => turn(column)}>
                  {column.head}
                  <span aria-hidden="true">
                    {sort?.key === column.key ? (sort.up ? ' ↑' : ' ↓') : ''}
                  </span>
                </button>
              ) : (
                column.head
              )}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {sorted.map((row) => (
          <tr
            key={rowKey(row)}
            className={rowClass?.(row)}
            {...acting(onRow && (() => onRow(row)))}
          >
            {columns.map((column, i) => (
              <Cell key={column.key} column={column} row={row} head={i === 0} />
            ))}
          </tr>
        ))}
        {rows.length === 0 && empty && (
          <tr>
            <td colSpan={columns.length} className={styles.empty}>
              {empty}
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

function Cell<Row>({ column, row, head }: { column: DataColumn<Row>; row: Row; head: boolean }) {
  const look = column.figures ? styles.figures : column.right ? styles.right : undefined;
  return head ? (
    <th scope="row" className={look}>
      {column.cell(row)}
    </th>
  ) : (
    <td className={look}>{column.cell(row)}</td>
  );
}

function acting(act: (() => void) | undefined) {
  if (!act) return {};
  return {
    tabIndex: 0,
    'data-acts': true,
    onClick: act,
    onKeyDown: (event: KeyboardEvent) =>
      event.key === 'Enter' && event.target === event.currentTarget && act(),
  };
}
