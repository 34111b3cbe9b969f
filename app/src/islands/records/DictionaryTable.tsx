import { Pencil, StickyNote, Trash2 } from 'lucide-react';
import { useEffect, useRef, type RefObject } from 'react';
import {
  display,
  isCoded,
  showDay,
  type ColumnSummary,
  type DictionaryEntry,
} from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { Name } from '../../components/index.ts';
import { showCount, showPercent, showValue } from '../../browser/format.ts';
import { moveBetweenRows } from '../../browser/row-keys.ts';
import styles from './DictionaryTable.module.css';

/** The dictionary as confirmed, with what the values are like. */
export function DictionaryTable({
  cohort,
  shown,
  onEdit,
  onRemove,
}: {
  cohort: CohortInfo;
  shown?: string;
  onEdit: (entry: DictionaryEntry) => void;
  /** Takes a derived column away. */
  onRemove: (entry: DictionaryEntry) => void;
}) {
  const line = useRef<HTMLTableRowElement>(null);
  useEffect(() => {
    line.current?.scrollIntoView({ block: 'center' });
  }, [shown]);
  return (
    <table className={styles.table}>
      <thead>
        <tr>
          <th scope="col">Column</th>
          <th scope="col">Kind</th>
          <th scope="col">Role</th>
          <th scope="col" className={styles.right}>
            Not known
          </th>
          <th scope="col">Values, median (quartiles)</th>
          <th scope="col" className={styles.acts}>
            <span className="hidden">Acts</span>
          </th>
        </tr>
      </thead>
      <tbody
        onKeyDown={(event) => {
          if (event.key === 'ArrowDown') moveBetweenRows(event, 1);
          if (event.key === 'ArrowUp') moveBetweenRows(event, -1);
        }}
      >
        {cohort.dictionary.map((entry, i) => (
          <Line
            key={entry.name}
            entry={entry}
            summary={cohort.summaries[i]}
            rows={cohort.rowCount}
            reference={entry.name === shown ? line : undefined}
            onEdit={() => onEdit(entry)}
            onRemove={() => onRemove(entry)}
          />
        ))}
      </tbody>
    </table>
  );
}

function Line({
  entry,
  summary,
  rows,
  reference,
  onEdit,
  onRemove,
}: {
  entry: DictionaryEntry;
  summary: ColumnSummary;
  rows: number;
  /** Given to the line that the address asks for. */
  reference?: RefObject<HTMLTableRowElement | null>;
  onEdit: () => void;
  onRemove: () => void;
}) {
  return (
    <tr
      ref={reference}
      className={`${entry.role === 'set aside' ? styles.aside : ''} ${reference ? styles.asked : ''}`}
    >
      <th scope="row" title={entry.name}>
        <Name
          text={display(entry)}
          title={
            entry.label && entry.label !== entry.name
              ? `${entry.label} (${entry.name})`
              : entry.name
          }
        />
        {entry.unit && <span className="quiet">, {entry.unit}</span>}{' '}
        {entry.label && entry.label !== entry.name && (
          <span className={styles.name}>{entry.name}</span>
        )}
        {entry.formula && <span className={styles.name}>= {entry.formula}</span>}
      </th>
      <td>{entry.kind}</td>
      <td className={entry.role === 'outcome' ? styles.outcome : undefined}>{entry.role}</td>
      <td className={styles.number}>
        {summary.missing === 0
          ? '–'
          : `${showCount(summary.missing)}  ${showPercent(summary.missing / rows).padStart(4)}`}
      </td>
      <td title={describe(entry, summary)}>{describe(entry, summary)}</td>
      <td className={styles.acts}>
        <button
          type="button"
          aria-label={`Change ${display(entry)}`}
          title={
            entry.note ??
            (entry.formula ? 'Change the formula' : 'Label, range, order of levels, note')
          }
          onClick={onEdit}
        >
          {entry.note ? (
            <StickyNote size={13} aria-hidden="true" />
          ) : (
            <Pencil size={13} aria-hidden="true" />
          )}
        </button>
        {entry.formula && (
          <button
            type="button"
            aria-label={`Take ${display(entry)} away`}
            title="Take it away"
            onClick={onRemove}
          >
            <Trash2 size={13} aria-hidden="true" />
          </button>
        )}
      </td>
    </tr>
  );
}

function describe(entry: DictionaryEntry, summary: ColumnSummary): string {
  if (isCoded(entry.kind) && summary.counts) {
    const levels = (entry.levels ?? []).map(
      (level, i) => `${level}: ${showCount(summary.counts![i])}`,
    );
    return levels.length > 6
      ? `${levels.slice(0, 6).join(', ')} … (${levels.length} levels)`
      : levels.join(', ');
  }
  if (summary.numbers) {
    const { least, lowerQuartile, median, upperQuartile, greatest } = summary.numbers;
    if (entry.kind === 'date') return `${showDay(least)} to ${showDay(greatest)}`;
    return `${showValue(least)} to ${showValue(greatest)}, median ${showValue(median)} (${showValue(lowerQuartile)}–${showValue(upperQuartile)})`;
  }
  return summary.different === undefined
    ? 'nothing known'
    : `${showCount(summary.different)} different`;
}
