import { display } from '@rook-scale/core/table';
import { plural, showPercent, showValue } from '../../browser/format.ts';
import type { CohortCheck } from '../../server/screenings.ts';
import styles from './ColumnsCompared.module.css';

export type ComparedPredictor = CohortCheck['predictors'][number];

/** Each predictor of the model as the list has it, and what scoring does about what is amiss. */
export function ColumnsCompared({ check }: { check: CohortCheck }) {
  const needsWord = (one: ComparedPredictor) => one.treatment !== '' || isShifted(one);
  const amiss = check.predictors.filter(needsWord);
  const fine = check.predictors.filter((one) => !needsWord(one));
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
            <th scope="col">Mean or share then → now</th>
            <th scope="col">What is done</th>
          </tr>
        </thead>
        <tbody>
          {amiss.map((one) => (
            <tr
              key={one.name}
              className={one.absent || one.newLevels.length > 0 ? styles.grave : undefined}
            >
              <th scope="row">
                {display(one)}
                {one.unit && <span className="quiet">, {one.unit}</span>}
              </th>
              <td className={styles.number}>{showPercent(missingShare(one, check.rowCount))}</td>
              <td className={styles.number}>{showPercent(one.gapShareThen)}</td>
              <td className={isShifted(one) ? styles.shifted : undefined}>
                {shiftText({ ...one, unit: '' })}
              </td>
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

export function missingShare(one: ComparedPredictor, rows: number): number {
  return one.absent ? 1 : one.gaps / Math.max(1, rows);
}

function withUnit(one: ComparedPredictor): string {
  return one.unit && (one.below > 0 || one.above > 0)
    ? `${one.treatment} (development patients had ${one.range?.map(showValue).join(' to ')} ${one.unit})`
    : one.treatment;
}

/** A mean moved by a quarter SD, or a tenth of the patients moved between levels (common practice). */
export function isShifted({ shift }: ComparedPredictor): boolean {
  return shift !== undefined && Math.abs(shift.size) >= (shift.level === undefined ? 0.25 : 0.1);
}

/** "66.1 → 69.3 years", means, or "bowel 28% → 25%". */
export function shiftText({ shift, unit }: ComparedPredictor): string {
  if (!shift) return '';
  const { level, then, now } = shift;
  if (level !== undefined) return `${level} ${showPercent(then)} → ${showPercent(now)}`;
  const show = (value: number) => String(Number(value.toPrecision(3)));
  return `${show(then)} → ${show(now)}${unit ? ` ${unit}` : ''}`;
}
