import { useQueries } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useEffect, useMemo, useRef, type KeyboardEvent, type ReactNode } from 'react';
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

/** A table of any size: only the rows and columns in view are drawn, rows fetched by the page. */
export function VirtualTable<Row>(props: Props<Row>) {
  const { label, rowCount, columns, cell, rowClass, startAt, onRow } = props;
  const scroller = useRef<HTMLDivElement>(null);
  /** The row that arrow keys come back to; Tab stops at the table alone. */
  const reached = useRef(0);
  // The virtualizer's functions change with every scroll, so nothing here may be memoised.
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: rowCount,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 12,
    scrollPaddingStart: rowHeight,
  });
  const across = useVirtualizer({
    horizontal: true,
    count: columns.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => columns[i].width,
    overscan: 3,
  });
  const { scrollToIndex } = virtual;
  useEffect(() => {
    if (startAt !== undefined && startAt < rowCount) scrollToIndex(startAt, { align: 'center' });
  }, [startAt, rowCount, scrollToIndex]);
  const items = virtual.getVirtualItems();
  const shown = across.getVirtualItems();
  const firstColumn = shown[0]?.index ?? 0;
  const lastColumn = shown.at(-1)?.index ?? Math.min(columns.length - 1, 12);
  const { row, problem } = usePages(props, items[0]?.index ?? 0, items.at(-1)?.index ?? 0);
  const grid = useMemo(
    () => ({
      gridTemplateColumns: columns.map(({ width }) => `${width}px`).join(' '),
      minWidth: columns.reduce((sum, { width }) => sum + width, 0),
    }),
    [columns],
  );
  return (
    <div
      ref={scroller}
      className={styles.scroller}
      role="table"
      aria-label={label}
      aria-rowcount={rowCount + 1}
      aria-colcount={columns.length}
      tabIndex={0}
      onKeyDown={(event) => {
        const to = onRow && rowAfter(event, rowCount, reached.current);
        if (to === undefined) return;
        event.preventDefault();
        reached.current = to;
        scrollToIndex(to);
        focusRow(scroller.current, to);
      }}
    >
      <div className={styles.head} role="row" aria-rowindex={1} style={grid}>
        {columns.slice(firstColumn, lastColumn + 1).map((column, i) => (
          <div
            key={column.key}
            role="columnheader"
            aria-colindex={firstColumn + i + 1}
            style={{ gridColumn: firstColumn + i + 1 }}
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
        style={{ height: virtual.getTotalSize(), minWidth: grid.minWidth }}
      >
        {items.map(({ index, start }) => (
          <RowView
            key={index}
            index={index}
            start={start}
            data={row(index)}
            columns={columns}
            firstColumn={firstColumn}
            lastColumn={lastColumn}
            grid={grid}
            cell={cell}
            rowClass={rowClass}
            onRow={onRow}
          />
        ))}
      </div>
    </div>
  );
}

interface RowProps<Row> extends Pick<Props<Row>, 'columns' | 'cell' | 'rowClass' | 'onRow'> {
  index: number;
  start: number;
  data: Row | undefined;
  firstColumn: number;
  lastColumn: number;
  grid: { gridTemplateColumns: string; minWidth: number };
}

/** One row; drawn again only when something of its own changes, not with every step of a scroll. */
const RowView = memo(function RowView<Row>(props: RowProps<Row>) {
  const { index, start, data, columns, firstColumn, lastColumn, grid, cell, rowClass, onRow } =
    props;
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      className={`${styles.row} ${data ? (rowClass?.(data, index) ?? '') : ''}`}
      style={{ ...grid, transform: `translateY(${start}px)` }}
      {...(onRow && data && rowActs(() => onRow(data)))}
    >
      {columns.slice(firstColumn, lastColumn + 1).map((column, i) => (
        <div
          key={column.key}
          role="cell"
          aria-colindex={firstColumn + i + 1}
          style={{ gridColumn: firstColumn + i + 1 }}
          className={column.figures ? styles.number : undefined}
        >
          {data ? cell(data, firstColumn + i) : <span className={styles.waiting} />}
        </div>
      ))}
    </div>
  );
}) as <Row>(props: RowProps<Row>) => ReactNode;

/** Where an arrow key leads from the row that has the focus; undefined for other keys and places. */
function rowAfter(
  event: KeyboardEvent<HTMLElement>,
  rowCount: number,
  reached: number,
): number | undefined {
  const target = event.target as HTMLElement;
  const inRow = target.getAttribute('role') === 'row';
  const at = inRow ? Number(target.getAttribute('aria-rowindex')) - 2 : reached - 1;
  const steps: Record<string, number> = {
    ArrowDown: at + 1,
    ArrowUp: at - 1,
    PageDown: at + 15,
    PageUp: at - 15,
    Home: 0,
    End: rowCount - 1,
  };
  if (!Object.hasOwn(steps, event.key) || (!inRow && event.key !== 'ArrowDown')) return undefined;
  return Math.min(rowCount - 1, Math.max(0, steps[event.key]));
}

/** A row out of view is drawn a moment after it was scrolled to. */
function focusRow(scroller: HTMLElement | null, index: number, tries = 20): void {
  const row = scroller?.querySelector<HTMLElement>(`[role=row][aria-rowindex="${index + 2}"]`);
  if (row?.hasAttribute('data-acts')) row.focus();
  else if (tries > 0) setTimeout(() => focusRow(scroller, index, tries - 1), 25);
}

function rowActs(act: () => void) {
  return {
    tabIndex: -1,
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
      meta: { lasting: true },
      enabled: rowCount > 0,
    })),
  });
  const row = (index: number): Row | undefined =>
    results[Math.floor(index / pageSize) - firstPage]?.data?.[index % pageSize];
  return { row, problem: results.find((result) => result.error)?.error?.message };
}
