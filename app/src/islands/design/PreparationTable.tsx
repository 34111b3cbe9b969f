import { useQuery } from '@tanstack/react-query';
import {
  effectsLike,
  effectsOf,
  fewest,
  stepOf,
  thinInputs,
  usualSteps,
  type FittedPreparation,
} from '@rook-scale/core/preparation';
import { display } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { ask } from '../../browser/api.ts';
import { designRoutes } from '../../contract/designs.ts';
import { plural, showCount, showPercent, showValue } from '../../browser/format.ts';
import { thinText } from './thin-text.ts';
import styles from './Design.module.css';

interface Props {
  studyId: string;
  cohort: CohortInfo;
  divided: boolean;
  fitKey: string;
}

/** The steps from columns to model inputs, with what the development patients taught each. */
export function PreparationTable({ studyId, cohort, divided, fitKey }: Props) {
  const { data: fitted } = useQuery({
    queryKey: ['preparation', studyId, fitKey],
    queryFn: () => ask(designRoutes.preparation, { study: studyId }),
    enabled: divided,
  });
  return (
    <section className={styles.section} aria-labelledby="preparation">
      <h2 id="preparation">Preparation</h2>
      <p className="quiet">
        Steps in this order, learned from development patients only. In cross-validation each fold
        learns them anew, and the fitted model carries them to every later list. An input of its own
        needs {fewest.patients} patients, of whom at least {fewest.ofEach} differ in the outcome
        from the others.
      </p>
      <ol className={styles.steps}>
        {usualSteps.map((id) => (
          <li key={id}>
            <strong>{stepOf(id).name}</strong> {stepOf(id).about}
          </li>
        ))}
      </ol>
      {!divided && (
        <p className="quiet">The learned values appear here once the event is chosen.</p>
      )}
      {fitted && <Learned fitted={fitted} cohort={cohort} />}
    </section>
  );
}

function Learned({ fitted, cohort }: { fitted: FittedPreparation; cohort: CohortInfo }) {
  const filled = effectsLike(fitted, 'filled');
  const unused = filled.filter(
    ({ column }) => !fitted.inputs.some((input) => input.column === column),
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
          {filled.map(({ column, gaps, number, level }) => {
            const entry = cohort.dictionary.find((one) => one.name === column);
            const inputs = fitted.inputs.filter((input) => input.column === column);
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
                    ? `${level ?? (number == null ? '–' : showValue(number))}${number == null ? '' : ' (median)'}`
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
      put((unit) =>
        `number, mean ${showValue(mean)}, SD ${Number(sd.toPrecision(3))} ${unit}`.trim(),
      );
    }
  }
  return made;
}
