import { useRef, type ReactNode } from 'react';
import { saveRows } from './save.ts';
import { useCopied } from './use-copied.ts';
import styles from './SavedTable.module.css';

interface Props {
  /** Without its ending. */
  fileName: string;
  /** All rows with their head, where the table shows only some. */
  rows?: () => (string | number)[][];
  /** A table. */
  children: ReactNode;
}

/** A table whose figures are copied, or saved as delimited text. */
export function SavedTable({ fileName, rows: given, children }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const rows = () => given?.() ?? rowsOf(frame.current!.querySelector('table')!);
  const { copied, copy } = useCopied(rows);
  return (
    <div className={styles.saved} ref={frame}>
      {children}
      <p className={styles.acts}>
        <button type="button" className="link" onClick={copy}>
          {copied ? 'Copied' : 'Copy the table'}
        </button>
        <button
          type="button"
          className="link"
          onClick={() => void saveRows(rows(), `${fileName}.csv`)}
        >
          Save as CSV
        </button>
      </p>
    </div>
  );
}

/** What stands in the cells; what is drawn only is left out, and a wide cell leaves those that it covers empty. */
function rowsOf(table: HTMLTableElement): string[][] {
  return Array.from(table.rows, (row) =>
    Array.from(row.cells)
      .filter((cell) => cell.ariaHidden !== 'true')
      .flatMap((cell) => [
        cell.innerText.replace(/\s+/g, ' ').trim(),
        ...Array<string>(cell.colSpan - 1).fill(''),
      ]),
  );
}
