import { display, showDay } from '@rook-scale/core/table';
import type { CohortInfo, FormulaTried } from '../../contract/cohorts.ts';
import { plural, showCount, showPercent, showValue } from '../../browser/format.ts';
import styles from './Formula.module.css';

type Understood = Extract<FormulaTried, { understood: true }>;

/** What a formula gives, in a sentence and on a few rows. */
export function Tried({ tried, cohort }: { tried: Understood; cohort: CohortInfo }) {
  const name = (column: string) => {
    const entry = cohort.dictionary.find((one) => one.name === column);
    return entry ? display(entry) : column;
  };
  return (
    <>
      <p role="status">{describe(tried)}</p>
      <table className={styles.examples}>
        <caption className="hidden">The formula on a few rows</caption>
        <thead>
          <tr>
            <th scope="col">Row</th>
            {tried.reads.map((column) => (
              <th key={column} scope="col">
                {name(column)}
              </th>
            ))}
            <th scope="col">Gives</th>
          </tr>
        </thead>
        <tbody>
          {tried.examples.map(({ row, read, value }) => (
            <tr key={row}>
              <th scope="row">{showCount(row)}</th>
              {read.map((cell, i) => (
                <td key={tried.reads[i]}>{cell || '·'}</td>
              ))}
              <td className={styles.gives}>
                {shorten(value) || <span className="quiet">not known</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function describe({ kind, summary, levels, rows }: Understood): string {
  const known = rows - summary.missing;
  const gaps = summary.missing === 0 ? '' : `, not known in ${plural(summary.missing, 'row')}`;
  if (summary.numbers) {
    const { least, median, greatest } = summary.numbers;
    const show = kind === 'date' ? showDay : showValue;
    return `A ${kind}: ${show(least)} to ${show(greatest)}, median ${show(median)}${gaps}.`;
  }
  if (levels && summary.counts) {
    const shares = levels
      .map((level, i) => ({ level, count: summary.counts![i] }))
      .slice(0, 8)
      .map(({ level, count }) => `${level} ${showPercent(count / Math.max(1, known))}`);
    return `${kind === 'yes/no' ? 'Yes/no' : kind === 'ordered category' ? 'An ordered category' : 'A category'}: ${shares.join(', ')}${levels.length > 8 ? ' …' : ''}${gaps}.`;
  }
  return `Nothing is known in any of ${plural(rows, 'row')}.`;
}

/** No more digits than can be read; the column keeps them all. */
function shorten(value: string): string {
  const number = Number(value);
  return value !== '' && !Number.isNaN(number) && value.length > 10 ? showValue(number) : value;
}
