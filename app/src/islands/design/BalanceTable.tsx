import { useState } from 'react';
import { unlikeFrom, type Balance, type SideOfColumn } from '@rook-scale/core/design';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { plural, showPercent } from '../../browser/format.ts';
import { showFixed } from '../../browser/numbers.ts';
import { Button, Name } from '../../components/index.ts';
import styles from './Design.module.css';

/** Of so many the most different are shown at first. */
const fewRows = 10;

/** Standardised differences beyond this end of the ruler stand at its end. */
const end = 0.5;

/** How alike development and held-out patients are, predictor by predictor. */
export function BalanceTable({ balance, cohort }: { balance: Balance[]; cohort: CohortInfo }) {
  const [all, setAll] = useState(false);
  const rows = [...balance].sort((a, b) => size(b) - size(a));
  const shown = all ? rows : rows.slice(0, fewRows);
  return (
    <>
      <p>{inWords(rows, cohort.dictionary)}</p>
      <table className={styles.balance}>
        <thead>
          <tr>
            <th scope="col">Predictor</th>
            <th scope="col" className={styles.right}>
              Development
            </th>
            <th scope="col" className={styles.right}>
              Held out
            </th>
            <th scope="col" className={styles.rulerHead}>
              <span className="hidden">
                Drawn from −{end} to {end}
              </span>
              <svg viewBox="-104 0 208 14" className={styles.ruler} aria-hidden="true">
                <text x={-100} y={11}>
                  −{end}
                </text>
                <text x={0} y={11} textAnchor="middle">
                  0
                </text>
                <text x={100} y={11} textAnchor="end">
                  {end}
                </text>
              </svg>
            </th>
            <th scope="col" className={styles.right}>
              Difference
            </th>
          </tr>
        </thead>
        <tbody>
          {shown.map((row) => (
            <Row key={row.column} row={row} dictionary={cohort.dictionary} />
          ))}
        </tbody>
      </table>
      {rows.length > fewRows && (
        <p>
          <Button look="link" onClick={() => setAll(!all)}>
            {all ? `Show the ${fewRows} most different` : `Show all ${rows.length}`}
          </Button>
        </p>
      )}
    </>
  );
}

function Row({ row, dictionary }: { row: Balance; dictionary: DictionaryEntry[] }) {
  const entry = dictionary.find(({ name }) => name === row.column);
  const { difference, development, heldOut } = row;
  const level = levelShown(row, entry);
  return (
    <tr data-unlike={size(row) >= unlikeFrom}>
      <th scope="row">
        <Name text={entry ? display(entry) : row.column} title={row.column} />
        {level && <span className="quiet"> {level}</span>}
      </th>
      <td className={styles.number}>{sideText(development, entry, level)}</td>
      <td className={styles.number}>{sideText(heldOut, entry, level)}</td>
      <td className={styles.rulerCell} aria-hidden="true">
        <svg viewBox="-104 -8 208 16" className={styles.ruler}>
          <rect
            x={(-100 * unlikeFrom) / end}
            width={(200 * unlikeFrom) / end}
            y={-8}
            height={16}
            className={styles.alike}
          />
          <line x1={0} x2={0} y1={-8} y2={8} className={styles.laneLine} />
          {difference !== undefined && (
            <circle cx={(100 * Math.max(-end, Math.min(end, difference))) / end} r={3.2} />
          )}
        </svg>
      </td>
      <td className={styles.number}>{difference === undefined ? '–' : showFixed(difference, 3)}</td>
    </tr>
  );
}

const size = ({ difference }: Balance) => Math.abs(difference ?? 0);

function inWords(rows: Balance[], dictionary: DictionaryEntry[]): string {
  if (rows.length === 0) return 'No predictor is chosen.';
  const unlike = rows.filter((row) => size(row) >= unlikeFrom).length;
  const entry = dictionary.find(({ name }) => name === rows[0].column);
  const greatest = `The greatest standardised difference is ${showFixed(size(rows[0]), 2)}, of ${entry ? display(entry) : rows[0].column}`;
  return unlike === 0
    ? `${greatest}; none of ${plural(rows.length, 'predictor')} differs by ${unlikeFrom} or more.`
    : `${greatest}; ${unlike} of ${plural(rows.length, 'predictor')} ${unlike === 1 ? 'differs' : 'differ'} by ${unlikeFrom} or more (common practice).`;
}

/** Of two levels the second, of several the one whose share differs most. */
function levelShown(
  { development, heldOut }: Balance,
  entry?: DictionaryEntry,
): string | undefined {
  const levels = entry?.levels;
  if (!levels || !development.counts || !heldOut.counts) return undefined;
  if (levels.length === 2) return levels[1];
  const share = ({ counts, known }: SideOfColumn, k: number) => counts![k] / Math.max(1, known);
  const apart = (k: number) => Math.abs(share(development, k) - share(heldOut, k));
  return levels[levels.reduce((best, _, k) => (apart(k) > apart(best) ? k : best), 0)];
}

function sideText(side: SideOfColumn, entry: DictionaryEntry | undefined, level?: string): string {
  if (side.counts) {
    const place = entry?.levels?.indexOf(level ?? '') ?? -1;
    return place < 0 ? '–' : showPercent(side.counts[place] / Math.max(1, side.known));
  }
  if (side.mean === undefined) return '–';
  const sd = side.sd!;
  // As many decimals as give the SD two figures.
  const decimals = sd > 0 ? Math.max(0, Math.min(6, 1 - Math.floor(Math.log10(sd)))) : 2;
  return `${showFixed(side.mean, decimals)} (${showFixed(sd, decimals)})`;
}
