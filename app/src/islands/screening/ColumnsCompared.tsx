import { display } from '@rook-scale/core/table';
import { plural, showCount, showPercent, showValue } from '../../browser/format.ts';
import type { CohortCheck } from '../../server/screenings.ts';
import type { MarginNote } from '../margin/index.ts';
import styles from './ColumnsCompared.module.css';

type Predictor = CohortCheck['predictors'][number];

/** Each predictor of the model as the list has it, and what scoring does about what is amiss. */
export function ColumnsCompared({ check }: { check: CohortCheck }) {
  const amiss = check.predictors.filter((one) => one.treatment);
  const fine = check.predictors.filter((one) => !one.treatment);
  return (
    <>
      <table className={styles.table}>
        <thead>
          <tr>
            <th scope="col">Predictor</th>
            <th scope="col" className={styles.right}>
              Not known
            </th>
            <th scope="col" className={styles.right}>
              then
            </th>
            <th scope="col">What is done</th>
          </tr>
        </thead>
        <tbody>
          {amiss.map((one) => (
            <tr
              key={one.name}
              className={one.absent || one.newLevels.length > 0 ? styles.grave : undefined}
            >
              <th scope="row">{display(one)}</th>
              <td className={styles.number}>{showPercent(missingShare(one, check.rowCount))}</td>
              <td className={styles.number}>{showPercent(one.gapShareThen)}</td>
              <td>{withUnit(one)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {fine.length > 0 && (
        <p className={styles.rest}>
          {plural(fine.length, 'predictor')} as expected, complete and within the range of the
          development patients: {fine.map(display).join(', ')}.
        </p>
      )}
      {check.extraColumns.length > 0 && (
        <p className={styles.rest}>
          {plural(check.extraColumns.length, 'column')} the model does not use:{' '}
          {check.extraColumns.join(', ')}.
        </p>
      )}
    </>
  );
}

function missingShare(one: Predictor, rows: number): number {
  return one.absent ? 1 : one.gaps / Math.max(1, rows);
}

function withUnit(one: Predictor): string {
  return one.unit && (one.below > 0 || one.above > 0)
    ? `${one.treatment} (development patients had ${one.range?.map(showValue).join(' to ')} ${one.unit})`
    : one.treatment;
}

/** The gravest of it, in the margin. */
export function comparisonNotes(check: CohortCheck): MarginNote[] {
  const notes: MarginNote[] = [];
  const absent = check.predictors.filter((one) => one.absent);
  if (absent.length > 0)
    notes.push({
      id: 'absent',
      title: `${plural(absent.length, 'predictor')} not in the file`,
      text: `${absent.map(display).join(', ')}: filled for everyone with what was usual among development patients. The risks are less sharp than the held-out check promised.`,
    });
  const fresh = check.predictors.filter((one) => one.newLevels.length > 0);
  for (const one of fresh)
    notes.push({
      id: `new-${one.name}`,
      title: `New in ${display(one)}`,
      text: `No development patient had ${one.newLevels.map(({ level, rows }) => `${level} (${showCount(rows)} here)`).join(', ')}. The model knows nothing of it and treats it as not known.`,
    });
  const emptier = check.predictors.filter(
    (one) => !one.absent && missingShare(one, check.rowCount) > one.gapShareThen + 0.1,
  );
  if (emptier.length > 0)
    notes.push({
      id: 'emptier',
      title: 'More gaps than among development patients',
      text: emptier
        .map(
          (one) =>
            `${display(one)} ${showPercent(missingShare(one, check.rowCount))}, then ${showPercent(one.gapShareThen)}`,
        )
        .join('; '),
    });
  return notes;
}
