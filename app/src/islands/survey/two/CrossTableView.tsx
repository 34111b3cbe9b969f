import { useState } from 'react';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import { plural, showCount, showP, showPercent } from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { Notice, Select } from '../../../components/index.ts';
import { useSurvey } from '../context.ts';
import { marksOf } from '../marks.ts';
import styles from '../Survey.module.css';
import { useCalculation } from '../use-calculation.ts';
import { useColumns } from '../use-columns.ts';
import { Waiting } from '../Waiting.tsx';
import own from './Two.module.css';

type Shown = 'counts' | 'rows' | 'columns';

/** Two columns with levels as a table of patients. */
export function CrossTableView({
  across,
  down,
}: {
  across: DictionaryEntry;
  down: DictionaryEntry;
}) {
  const { version, look, design } = useSurvey();
  const { columns, problem } = useColumns([down.name, across.name]);
  const [shown, setShown] = useState<Shown>('counts');
  const [a, b] = columns ?? [];
  const sides =
    a?.type === 'coded' && b?.type === 'coded'
      ? [
          { codes: a.codes, levels: a.levels.length },
          { codes: b.codes, levels: b.levels.length },
        ]
      : undefined;
  const { result: view } = useCalculation(
    'twoCategories',
    [version, look, down.name, across.name, ''],
    sides && [sides[0], sides[1]],
  );
  if (!view || a?.type !== 'coded' || b?.type !== 'coded')
    return <Waiting problem={problem} what={`${display(across)} and ${display(down)}`} />;
  const { counts, patients, test } = view;
  if (b.levels.length > 60 || a.levels.length > 400)
    return (
      <Notice kind="plain">
        {display(across)} has {b.levels.length} levels and {display(down)} {a.levels.length}: too
        many for a table. Cut them into fewer in the dictionary.
      </Notice>
    );
  const rowTotals = counts.map((row) => row.reduce((sum, count) => sum + count, 0));
  const columnTotals = b.levels.map((_, j) => counts.reduce((sum, row) => sum + row[j], 0));
  const share = (count: number, i: number, j: number) => {
    if (shown === 'counts') return showCount(count);
    const total = shown === 'rows' ? rowTotals[i] : columnTotals[j];
    return total > 0 ? showPercent(count / total) : '–';
  };
  const marks = marksOf(across, design);
  return (
    <>
      <dl className={styles.facts}>
        <div>
          <dt>both known in</dt>
          <dd>{plural(patients, 'patient')}</dd>
        </div>
        {test ? (
          <>
            <div>
              <dt>chi-square</dt>
              <dd>
                {showFixed(test.statistic, 2)} on {test.degreesOfFreedom}, p {showP(test.p)}
              </dd>
            </div>
            <div>
              <dt>Cramér’s V</dt>
              <dd>{showFixed(test.cramersV, 2)}</dd>
            </div>
          </>
        ) : (
          <div>
            <dt>chi-square</dt>
            <dd>needs two levels in use of each</dd>
          </div>
        )}
      </dl>
      {test && test.smallestExpected < 5 && (
        <p className={styles.warning}>
          A cell expects only {showFixed(test.smallestExpected, 1)} patients: the p of chi-square is
          rough here.
        </p>
      )}
      <div className={styles.choices}>
        <Select
          label="Show"
          value={shown}
          options={[
            { value: 'counts', label: 'patients' },
            { value: 'rows', label: `share of each ${display(down)}` },
            { value: 'columns', label: `share of each ${display(across)}` },
          ]}
          onChange={setShown}
        />
      </div>
      <div className={own.scroll} tabIndex={0} role="region" aria-label="Cross table">
        <table className={own.cross}>
          <caption className="hidden">
            {display(down)} by {display(across)}
          </caption>
          <thead>
            <tr>
              <td />
              <th colSpan={b.levels.length} scope="colgroup">
                {display(across)}
              </th>
              <td />
            </tr>
            <tr>
              <th scope="col">{display(down)}</th>
              {b.levels.map((level) => (
                <th key={level} scope="col">
                  {level}
                </th>
              ))}
              <th scope="col">all</th>
            </tr>
          </thead>
          <tbody>
            {a.levels.map((level, i) => (
              <tr key={level}>
                <th scope="row">{level}</th>
                {counts[i].map((count, j) => (
                  <td
                    key={j}
                    style={{
                      backgroundSize: `${rowTotals[i] > 0 ? (100 * count) / rowTotals[i] : 0}% 3px`,
                      backgroundImage: `linear-gradient(${marks[j].colour}, ${marks[j].colour})`,
                    }}
                  >
                    {share(count, i, j)}
                  </td>
                ))}
                <td>
                  {shown === 'columns'
                    ? showPercent(rowTotals[i] / Math.max(1, patients))
                    : showCount(rowTotals[i])}
                </td>
              </tr>
            ))}
            <tr className={own.total}>
              <th scope="row">all</th>
              {columnTotals.map((total, j) => (
                <td key={j}>
                  {shown === 'rows' ? showPercent(total / Math.max(1, patients)) : showCount(total)}
                </td>
              ))}
              <td>{showCount(patients)}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <p className={styles.note}>
        The line under a cell is its share of the row. Chi-square without continuity correction.
      </p>
    </>
  );
}
