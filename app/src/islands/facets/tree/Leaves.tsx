import { useState } from 'react';
import type { Interval } from '@rook-scale/core/measures';
import { Button, IntervalStrip } from '../../../components/index.ts';
import { plural, showCount } from '../../../browser/format.ts';
import styles from './Tree.module.css';

export interface LeafRow {
  place: number;
  /** The answers that lead there. */
  rule: string;
  patients: number;
  /** Cases among them, where there are such. */
  cases?: number;
  /** What a patient there is given, in figures and words. */
  given: string;
  share?: number;
  /** What becomes of them at the cutoff, and what errors among the patients it was grown on cost then. */
  call?: string;
  cost?: string;
  interval?: Interval;
}

interface Props {
  rows: LeafRow[];
  /** Heads of cases and of what is given. */
  heads: { cases?: string; given: string };
  selected: number;
  onSelect: (place: number) => void;
}

const few = 25;

/** The leaves as sentences, most cases first. */
export function Leaves({ rows, heads, selected, onSelect }: Props) {
  const [all, setAll] = useState(false);
  const at = rows.findIndex(({ place }) => place === selected);
  // The chosen one is always there.
  const shown = all ? rows : rows.slice(0, Math.max(few, at + 1));
  const withStrip = rows.some(({ share }) => share !== undefined);
  const withCalls = rows.some(({ call }) => call !== undefined);
  const withCosts = rows.some(({ cost }) => cost !== undefined);
  return (
    <>
      <table className={styles.leaves}>
        <caption className="hidden">Leaves of the tree as rules</caption>
        <thead>
          <tr>
            <th scope="col">Rule</th>
            <th scope="col">Patients</th>
            {heads.cases && <th scope="col">{heads.cases}</th>}
            <th scope="col">{heads.given}</th>
            {withStrip && (
              <th scope="col" className={styles.stripHead}>
                <span>0%</span>
                <span>100%</span>
              </th>
            )}
            {withCalls && (
              <>
                <th scope="col">Call</th>
                {withCosts && <th scope="col">Cost</th>}
              </>
            )}
          </tr>
        </thead>
        <tbody>
          {shown.map((row) => (
            <tr key={row.place} className={row.place === selected ? styles.chosen : undefined}>
              <th scope="row">
                <button type="button" className={styles.rule} onClick={() => onSelect(row.place)}>
                  {row.rule}
                </button>
              </th>
              <td>{showCount(Math.round(row.patients))}</td>
              {heads.cases && <td>{showCount(Math.round(row.cases ?? 0))}</td>}
              <td>{row.given}</td>
              {withStrip && (
                <td className={styles.strip}>
                  <IntervalStrip value={row.share} interval={row.interval} />
                </td>
              )}
              {withCalls && (
                <>
                  <td className={styles.call}>{row.call}</td>
                  {withCosts && <td>{row.cost}</td>}
                </>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length > shown.length && (
        <p>
          <Button look="link" onClick={() => setAll(true)}>
            Show all {plural(rows.length, 'leaf', 'leaves')}
          </Button>
        </p>
      )}
    </>
  );
}
