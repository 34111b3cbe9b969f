import { useEffect, useMemo, useRef } from 'react';
import { ColumnBuilder, isMissing, showValue, type Dictionary } from '@rook-scale/core/table';
import type { UploadReview } from '../../contract/uploads.ts';
import styles from './FirstRows.module.css';

interface Props {
  upload: UploadReview;
  dictionary: Dictionary;
  /** The column in view above; it is brought into view here too. */
  shown: number;
}

const rowsShown = 20;

/** The first rows as they would be stored under the dictionary as it stands. */
export function FirstRows({ upload, dictionary, shown }: Props) {
  const table = useRef<HTMLTableElement>(null);
  const columns = useMemo(() => understood(upload, dictionary), [upload, dictionary]);
  useEffect(() => {
    table.current
      ?.querySelectorAll('thead th')
      [shown + 1]?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [shown]);
  const count = Math.min(rowsShown, upload.firstRows.length);
  return (
    <section className={styles.rows}>
      <h2>First rows as understood</h2>
      <div
        className={styles.scroller}
        tabIndex={0}
        role="region"
        aria-label="First rows as understood"
      >
        <table ref={table}>
          <thead>
            <tr>
              <th scope="col" className={styles.place}>
                Row
              </th>
              {dictionary.map((entry, i) => (
                <th key={entry.name} scope="col" className={i === shown ? styles.shown : undefined}>
                  {entry.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {Array.from({ length: count }, (_, row) => (
              <tr key={row}>
                <th scope="row" className={styles.place}>
                  {row + 1}
                </th>
                {columns.map(({ name, cells, figures }, i) => (
                  <td
                    key={name}
                    className={`${figures ? styles.figures : ''} ${i === shown ? styles.shown : ''}`}
                  >
                    {cells[row] ?? (
                      <span className={styles.gap} title="Not known">
                        ·
                      </span>
                    )}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function understood(upload: UploadReview, dictionary: Dictionary) {
  const places = new Map(upload.columns.map(({ tally }, i) => [tally.name, i]));
  return dictionary.map((entry) => {
    const builder = new ColumnBuilder(entry);
    const rows = upload.firstRows.slice(0, rowsShown);
    for (const row of rows) builder.add(row[places.get(entry.name)!] ?? '');
    const column = builder.result();
    return {
      name: entry.name,
      figures: entry.kind === 'number',
      cells: rows.map((_, row) =>
        isMissing(column, row) ? undefined : showValue(column, row, entry.kind === 'date'),
      ),
    };
  });
}
