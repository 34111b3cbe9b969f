import {
  effectsOf,
  fillingsOf,
  readsColumn,
  thinInputs,
  type FittedPreparation,
} from '@rook-scale/core/preparation';
import { display } from '@rook-scale/core/table';
import type { CohortInfo } from '../../../contract/cohorts.ts';
import { plural, showCount, showPercent, showValue } from '../../../browser/format.ts';
import { showDigits } from '../../../browser/numbers.ts';
import { thinText } from '../thin-text.ts';
import styles from '../Design.module.css';

/** What becomes of each predictor. */
export function LearnedTable({
  fitted,
  cohort,
}: {
  fitted: FittedPreparation;
  cohort: CohortInfo;
}) {
  const filled = [...fillingsOf(fitted).values()].filter(({ column }) =>
    cohort.dictionary.some(({ name }) => name === column),
  );
  const unused = filled.filter(
    ({ column }) => !fitted.inputs.some((input) => readsColumn(input, column)),
  );
  const thin = thinInputs(fitted);
  const made = madeOf(fitted);
  const labelOf = (column: string) => {
    const entry = cohort.dictionary.find((one) => one.name === column);
    return entry ? display(entry) : column;
  };
  return (
    <>
      <table className={styles.preparation}>
        <thead>
          <tr>
            <th scope="col">Predictor</th>
            <th scope="col" className={styles.right}>
              Gaps
            </th>
            <th scope="col">Filled with</th>
            <th scope="col">Becomes</th>
            <th scope="col" className={styles.right}>
              Inputs
            </th>
          </tr>
        </thead>
        <tbody>
          {filled.map(({ column, gaps, number, level, how }) => {
            const entry = cohort.dictionary.find((one) => one.name === column);
            const inputs = fitted.inputs.filter((input) => readsColumn(input, column));
            return (
              <tr key={column}>
                <th scope="row">{entry ? display(entry) : column}</th>
                <td className={styles.number}>
                  {gaps > 0
                    ? `${showCount(gaps)} ${showPercent(gaps / fitted.patients).padStart(4)}`
                    : '–'}
                </td>
                <td>
                  {gaps > 0
                    ? how === 'chained regressions' || how === 'nearest patients'
                      ? how
                      : `${level ?? (number == null ? '–' : showValue(number))}${number == null ? '' : ` (${how ?? 'median'})`}`
                    : '–'}
                </td>
                <td>{made.get(column)?.(entry?.unit ?? '') ?? 'left out: nothing known'}</td>
                <td className={styles.number}>{inputs.length}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {thin.length > 0 && (
        <>
          <h3>Too few patients for an input of their own</h3>
          <ul className={styles.thin}>
            {thin.map((one, i) => (
              <li key={i}>{thinText(one, labelOf)}</li>
            ))}
          </ul>
        </>
      )}
      <p className="quiet">
        {plural(filled.length, 'predictor')} become {plural(fitted.inputs.length, 'model input')},
        learned from {plural(fitted.patients, 'development patient')}.
        {unused.length > 0 &&
          ` ${unused.map(({ column }) => column).join(', ')} cannot be used: too little varies there.`}
      </p>
    </>
  );
}

/** What is made of a column, in words, by column. */
function madeOf(fitted: FittedPreparation): Map<string, (unit: string) => string> {
  const made = new Map<string, (unit: string) => string>();
  for (const effect of effectsOf(fitted)) {
    const put = (words: (unit: string) => string) => made.set(effect.column, words);
    if (effect.what === 'indicators') {
      const { levels, reference } = effect;
      put(() =>
        levels.length === 0
          ? 'left out: one level only, or too few patients with another'
          : `${levels.join(', ')} against ${reference}`,
      );
    } else if (effect.what === 'left out') {
      const why = effect.why === 'no variation' ? 'no variation' : 'too few patients differ';
      put(() => `left out: ${why}`);
    } else if (effect.what === 'standardised') {
      const { mean, sd } = effect;
      put((unit) => `number, mean ${showValue(mean)}, SD ${showDigits(sd, 3)} ${unit}`.trim());
    }
  }
  return made;
}
