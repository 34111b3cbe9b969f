import { useVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useEffect, useRef, useState, type ReactNode } from 'react';
import styles from './VirtualTable.module.css';

export interface VirtualColumn {
  key: string;
  head: ReactNode;
  /** Width in pixels. */
  width: number;
  figures?: boolean;
}

interface Props<Row> {
  label: string;
  rowCount: number;
  columns: VirtualColumn[];
  /** Fetches rows from the server; called with page-sized pieces as they come into view. */
  fetchRows: (from: number, count: number) => Promise<Row[]>;
  cell: (row: Row, column: number) => ReactNode;
  rowClass?: (row: Row, index: number) => string | undefined;
  /** Changes when rows fetched before are no longer true. */
  version: string;
}

const pageSize = 100;
const rowHeight = 28;

/** A table of any length: only the rows in view are drawn, and fetched by the page. */
export function VirtualTable<Row>(props: Props<Row>) {
  const { label, rowCount, columns, cell, rowClass } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rowCount,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 12,
    scrollPaddingStart: rowHeight,
  });
  const items = virtual.getVirtualItems();
  const { row, problem } = usePages(props, items[0]?.index ?? 0, items.at(-1)?.index ?? 0);
  const width = columns.reduce((sum, column) => sum + column.width, 0);
  const grid = { gridTemplateColumns: columns.map(({ width: w }) => `${w}px`).join(' '), minWidth: width };
  return (
    <div
      ref={scroller}
      className={styles.scroller}
      role="table"
      aria-label={label}
      aria-rowcount={rowCount + 1}
      tabIndex={0}
    >
      <div className={styles.head} role="row" aria-rowindex={1} style={grid}>
        {columns.map((column) => (
          <div key={column.key} role="columnheader" className={column.figures ? styles.right : undefined}>
            {column.head}
          </div>
        ))}
      </div>
      {problem && <p className={styles.problem}>{problem}</p>}
      <div role="rowgroup" className={styles.body} style={{ height: virtual.getTotalSize(), minWidth: width }}>
        {items.map(({ index, start }) => {
          const data = row(index);
          return (
            <div
              key={index}
              role="row"
              aria-rowindex={index + 2}
              className={`${styles.row} ${data ? (rowClass?.(data, index) ?? '') : ''}`}
              style={{ ...grid, transform: `translateY(${start}px)` }}
            >
              {columns.map((column, i) => (
                <div key={column.key} role="cell" className={column.figures ? styles.number : undefined}>
                  {data ? cell(data, i) : <span className={styles.waiting} />}
                </div>
              ))}
            </div>
          );
        })}
      </div>
    </div>
  );
}

/** Pages fetched so far, and those now needed. */
function usePages<Row>({ fetchRows, rowCount, version }: Props<Row>, first: number, last: number) {
  const pages = useRef(new Map<number, Row[] | 'asked'>());
  const [, redraw] = useState(0);
  const [problem, setProblem] = useState<string>();
  const seen = useRef(version);
  if (seen.current !== version) {
    seen.current = version;
    pages.current = new Map();
  }
  const firstPage = Math.floor(first / pageSize);
  const lastPage = Math.floor(Math.min(last, Math.max(0, rowCount - 1)) / pageSize);
  useEffect(() => {
    const mine = pages.current;
    for (let page = firstPage; page <= lastPage; page++) {
      if (mine.has(page)) continue;
      mine.set(page, 'asked');
      fetchRows(page * pageSize, Math.min(pageSize, rowCount - page * pageSize)).then(
        (rows) => {
          mine.set(page, rows);
          setProblem(undefined);
          redraw((n) => n + 1);
        },
        (error: Error) => {
          mine.delete(page);
          setProblem(error.message);
        },
      );
    }
  }, [firstPage, lastPage, rowCount, version, fetchRows]);
  const row = useCallback((index: number) => {
    const page = pages.current.get(Math.floor(index / pageSize));
    return Array.isArray(page) ? page[index % pageSize] : undefined;
  }, []);
  return { row, problem };
}
