import { useState } from 'react';
import type { ErrorSums, ErrorTable } from '@rook-scale/core/measures';
import { showCost, showCount, showPercent } from '../../browser/format.ts';
import { SavedTable } from '../../components/index.ts';
import styles from './ErrorTableView.module.css';

interface Props {
  table: ErrorTable;
  /** What they cost; absent where that is not known of these patients. */
  costs?: ErrorSums;
  /** In words. */
  cutoff: string;
  /** Label of the outcome, what cases are called, and the others. */
  outcome: { label: string; event: string; other: string; isEvent: boolean };
  title?: string;
}

/** What stands below each count. */
const below = { row: 'share of row', column: 'share of column', all: 'share of all' };
type Below = keyof typeof below;

/** Outcome in rows, event first; call in columns. Areas of the squares follow the counts. */
export function ErrorTableView({ table, costs, cutoff, outcome, title }: Props) {
  const { found, missed, falseAlarms, rightlyLeft } = table;
  const events = found + missed;
  const others = falseAlarms + rightlyLeft;
  const [shown, setShown] = useState<Below>('row');
  const of = (row: number, column: number) => ({ row, column, all: events + others })[shown];
  const most = Math.max(1, found, missed, falseAlarms, rightlyLeft);
  return (
    <section>
      <h2>{title ?? `Errors at cutoff ${cutoff}`}</h2>
      <SavedTable fileName="error-table">
        <table className={styles.table}>
          <caption className="hidden">
            {outcome.label} in rows, call in columns, at cutoff {cutoff}
          </caption>
          <thead>
            <tr>
              <td />
              <th scope="col">Called in</th>
              <th scope="col">Left alone</th>
              <th scope="col" className={styles.total}>
                Patients
              </th>
            </tr>
          </thead>
          <tbody>
            <tr>
              <th scope="row" title={`${outcome.label}: ${outcome.event}`}>
                <span className={styles.eventMark} aria-hidden="true" />{' '}
                {outcome.isEvent ? 'Event' : 'Case'}
                <span className={styles.level} title={outcome.event}>
                  {outcome.event}
                </span>
              </th>
              <Cell
                count={found}
                of={of(events, found + falseAlarms)}
                most={most}
                word="found"
                look="eventRight"
              />
              <Cell
                count={missed}
                of={of(events, missed + rightlyLeft)}
                most={most}
                word="missed"
                look="eventWrong"
                cost={costs?.missed}
              />
              <td className={styles.total}>{showCount(events)}</td>
            </tr>
            <tr>
              <th scope="row" title={`${outcome.label}: ${outcome.other}`}>
                <span className={styles.noneMark} aria-hidden="true" />{' '}
                {outcome.isEvent ? 'No event' : 'No case'}
                <span className={styles.level} title={outcome.other}>
                  {outcome.other}
                </span>
              </th>
              <Cell
                count={falseAlarms}
                of={of(others, found + falseAlarms)}
                most={most}
                word="false alarms"
                look="noneWrong"
                cost={costs?.falseAlarms}
              />
              <Cell
                count={rightlyLeft}
                of={of(others, missed + rightlyLeft)}
                most={most}
                word="rightly left"
                look="noneRight"
              />
              <td className={styles.total}>{showCount(others)}</td>
            </tr>
          </tbody>
        </table>
      </SavedTable>
      <label className={styles.below}>
        below{' '}
        <select value={shown} onChange={({ target }) => setShown(target.value as Below)}>
          {(Object.keys(below) as Below[]).map((one) => (
            <option key={one} value={one}>
              {below[one]}
            </option>
          ))}
        </select>
      </label>
    </section>
  );
}

interface CellProps {
  count: number;
  of: number;
  most: number;
  word: string;
  look: 'eventRight' | 'eventWrong' | 'noneWrong' | 'noneRight';
  cost?: number;
}

function Cell({ count, of, most, word, look, cost }: CellProps) {
  const side = count === 0 ? 0 : Math.max(4, 26 * Math.sqrt(count / most));
  return (
    <td className={styles.cell}>
      <span className={styles.top}>
        <span className={styles.count}>{showCount(count)}</span>
        {side > 0 && (
          <span
            className={`${styles.square} ${styles[look]}`}
            style={{ width: side, height: side }}
            aria-hidden="true"
          />
        )}
      </span>
      <span className={styles.word}>{word}</span>
      <span className={styles.word}>
        {of > 0 ? showPercent(count / of) : '–'}
        {cost !== undefined && `, cost ${showCost(cost)}`}
      </span>
    </td>
  );
}
