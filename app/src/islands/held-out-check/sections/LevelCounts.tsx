import { useState } from 'react';
import {
  costPresets,
  levelCostPerThousand,
  levelReferenceCost,
  type LevelTable,
} from '@rook-scale/core/measures';
import { showCost, showCount, showPercent } from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { SavedTable } from '../../../components/index.ts';
import styles from './LevelCounts.module.css';

/** What stands below each count. */
const below = {
  row: 'share of row',
  column: 'share of column',
  cost: 'cost per 1,000',
} as const;
type Below = keyof typeof below;

interface Props {
  table: LevelTable;
  /** True level in rows; undefined where every error costs the same. */
  costs: number[][] | undefined;
}

/** True level in rows, given level in columns: counts, with shares or costs below. */
export function LevelCounts({ table, costs }: Props) {
  const [shown, setShown] = useState<Below>('row');
  const { levels, counts } = table;
  const rows = counts.map(sum);
  const columns = levels.map((_, j) => sum(counts.map((row) => row[j])));
  const all = sum(rows);
  const each = costs ?? costPresets.equal(levels.length);
  const under: { [K in Below]: (i: number, j: number) => string } = {
    row: (i, j) => share(counts[i][j], rows[i]),
    column: (i, j) => share(counts[i][j], columns[j]),
    cost: (i, j) => (all > 0 ? showCost((1000 * counts[i][j] * each[i][j]) / all) : '–'),
  };
  return (
    <section>
      <div className={styles.head}>
        <h2 id="every-level">Every level</h2>
        <label>
          below{' '}
          <select value={shown} onChange={(event) => setShown(event.target.value as Below)}>
            {(Object.keys(below) as Below[]).map((one) => (
              <option key={one} value={one}>
                {below[one]}
              </option>
            ))}
          </select>
        </label>
      </div>
      <p className={styles.axes}>
        True level in rows, {costs ? 'cheapest' : 'likeliest'} level in columns
      </p>
      <SavedTable fileName="every-level">
        {' '}
        <div className={styles.scroller} tabIndex={0} role="region" aria-label="Every level">
          <table className={styles.counts} aria-labelledby="every-level">
            <thead>
              <tr>
                <td />
                {levels.map((level) => (
                  <th scope="col" key={level}>
                    {level}
                  </th>
                ))}
                <th scope="col">all</th>
              </tr>
            </thead>
            <tbody>
              {counts.map((row, i) => (
                <tr key={levels[i]}>
                  <th scope="row">{levels[i]}</th>
                  {row.map((count, j) => (
                    <td key={levels[j]} className={i === j ? styles.right : undefined}>
                      {showCount(count)}
                      <span>{under[shown](i, j)}</span>
                    </td>
                  ))}
                  <td>{showCount(rows[i])}</td>
                </tr>
              ))}
              <tr>
                <th scope="row">all</th>
                {columns.map((count, j) => (
                  <td key={levels[j]}>{showCount(count)}</td>
                ))}
                <td>{showCount(all)}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </SavedTable>
      <p className={styles.cost}>
        Wrong levels cost{' '}
        <span className="figures">{showCost(levelCostPerThousand(table, each))}</span> per 1,000
        patients, {showFixed(levelCostPerThousand(table, each) / 1000, 2)} a patient; one level for
        all, the cheapest,{' '}
        <span className="figures">{showCost(levelReferenceCost(table, each))}</span>.
      </p>
    </section>
  );
}

const sum = (values: number[]) => values.reduce((total, value) => total + value, 0);

const share = (count: number, of: number) => (of > 0 ? showPercent(count / of) : '–');
