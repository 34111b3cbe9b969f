import { useQuery } from '@tanstack/react-query';
import { fewest, thinInputs, type FittedPreparation } from '@rook-scale/core/preparation';
import { display } from '@rook-scale/core/table';
import { get } from '../../browser/api.ts';
import { plural, showCount, showPercent, showValue } from '../../browser/format.ts';
import type { CohortInfo } from '../../server/cohorts/index.ts';
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
    queryFn: () => get<FittedPreparation | null>(`/api/studies/${studyId}/preparation`),
    enabled: divided,
  });
  return (
    <section className={styles.section} aria-labelledby="preparation">
      <h2 id="preparation">Preparation</h2>
      <p className="quiet">
        In this order, learned from development patients only: gaps are filled and marked by an
        indicator; levels become indicators beside a reference level; numbers are standardised (SD
        with divisor n). An input of its own needs {fewest.patients} patients, of whom at least{' '}
        {fewest.ofEach} differ in the outcome from the others. In cross-validation each fold learns
        it anew, and the fitted model carries it to every later list.
      </p>
      {!divided && (
        <p className="quiet">The learned values appear here once the event is chosen.</p>
      )}
      {fitted && <Learned fitted={fitted} cohort={cohort} />}
    </section>
  );
}

function Learned({ fitted, cohort }: { fitted: FittedPreparation; cohort: CohortInfo }) {
  const unused = fitted.filled.filter(
    ({ column }) => !fitted.inputs.some((input) => input.column === column),
  );
  const thin = thinInputs(fitted);
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
          {fitted.filled.map(({ column, gaps, number, level }) => {
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
                <td>{becomes(fitted, column, entry?.unit)}</td>
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
        {plural(fitted.filled.length, 'predictor')} become{' '}
        {plural(fitted.inputs.length, 'model input')}, learned from{' '}
        {plural(fitted.patients, 'development patient')}.
        {unused.length > 0 &&
          ` ${unused.map(({ column }) => column).join(', ')} cannot be used: too little varies there.`}
      </p>
    </>
  );
}

function becomes(fitted: FittedPreparation, column: string, unit = ''): string {
  const levels = fitted.indicators.find((entry) => entry.column === column);
  if (levels)
    return levels.levels.length === 0
      ? 'left out: one level only, or too few patients with another'
      : `${levels.levels.join(', ')} against ${levels.reference}`;
  const scale = fitted.standardised.find((entry) => entry.column === column);
  if (!scale) return 'left out: nothing known';
  if (scale.differ) return 'left out: too few patients differ';
  if (scale.sd === 0) return 'left out: no variation';
  return `number, mean ${showValue(scale.mean)}, SD ${Number(scale.sd.toPrecision(3))} ${unit}`.trim();
}
