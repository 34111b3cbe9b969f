import { useQueries } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, type KeyboardEvent, type ReactNode } from 'react';
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
  /** The row to begin at, from 0. */
  startAt?: number;
  /** What a click or Enter on a row does. */
  onRow?: (row: Row) => void;
  /** Names these rows among all that was fetched; changes when they do. */
  cacheKey: string[];
}

const pageSize = 100;
const rowHeight = 28;

/** A table of any length: only the rows in view are drawn, and fetched by the page. */
export function VirtualTable<Row>(props: Props<Row>) {
  const { label, rowCount, columns, cell, rowClass, startAt, onRow } = props;
  const scroller = useRef<HTMLDivElement>(null);
  // The virtualizer's functions change with every scroll, so nothing here may be memoised.
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: rowCount,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 12,
    scrollPaddingStart: rowHeight,
  });
  const { scrollToIndex } = virtual;
  useEffect(() => {
    if (startAt !== undefined && startAt < rowCount) scrollToIndex(startAt, { align: 'center' });
  }, [startAt, rowCount, scrollToIndex]);
  const items = virtual.getVirtualItems();
  const { row, problem } = usePages(props, items[0]?.index ?? 0, items.at(-1)?.index ?? 0);
  const width = columns.reduce((sum, column) => sum + column.width, 0);
  const grid = {
    gridTemplateColumns: columns.map(({ width: w }) => `${w}px`).join(' '),
    minWidth: width,
  };
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
          <div
            key={column.key}
            role="columnheader"
            className={column.figures ? styles.right : undefined}
          >
            {column.head}
          </div>
        ))}
      </div>
      {problem && <p className={styles.problem}>{problem}</p>}
      <div
        role="rowgroup"
        className={styles.body}
        style={{ height: virtual.getTotalSize(), minWidth: width }}
      >
        {items.map(({ index, start }) => {
          const data = row(index);
          return (
            <div
              key={index}
              role="row"
              aria-rowindex={index + 2}
              className={`${styles.row} ${data ? (rowClass?.(data, index) ?? '') : ''}`}
              style={{ ...grid, transform: `translateY(${start}px)` }}
              {...(onRow && data && rowActs(() => onRow(data)))}
            >
              {columns.map((column, i) => (
                <div
                  key={column.key}
                  role="cell"
                  className={column.figures ? styles.number : undefined}
                >
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

function rowActs(act: () => void) {
  return {
    tabIndex: 0,
    'data-acts': true,
    onClick: act,
    onKeyDown: (event: KeyboardEvent) => event.key === 'Enter' && act(),
  };
}

/** The pages in view; those seen before come from the page's store. */
function usePages<Row>(props: Props<Row>, first: number, last: number) {
  const { fetchRows, rowCount, cacheKey } = props;
  const firstPage = Math.floor(first / pageSize);
  const lastPage = Math.floor(Math.min(last, Math.max(0, rowCount - 1)) / pageSize);
  const pages = Array.from({ length: lastPage - firstPage + 1 }, (_, i) => firstPage + i);
  const results = useQueries({
    queries: pages.map((page) => ({
      queryKey: ['rows', ...cacheKey, page],
      queryFn: () => fetchRows(page * pageSize, Math.min(pageSize, rowCount - page * pageSize)),
      staleTime: Infinity,
      enabled: rowCount > 0,
    })),
  });
  const row = (index: number): Row | undefined =>
    results[Math.floor(index / pageSize) - firstPage]?.data?.[index % pageSize];
  return { row, problem: results.find((result) => result.error)?.error?.message };
}
