import { display } from '@rook-scale/core/table';
import type { CohortCheck } from '../../contract/screenings.ts';
import { plural, showPercent, showValue } from '../../browser/format.ts';
import { showDigits } from '../../browser/numbers.ts';
import { unfamiliarText } from './TooLittleDialog.tsx';
import styles from './ColumnsCompared.module.css';

export type ComparedPredictor = CohortCheck['predictors'][number];

interface Props {
  check: CohortCheck;
  /** Asks which column stands for a predictor. */
  onMatch?: (predictor: string) => void;
}

/** Each predictor of the model as the list has it, and what scoring does about what is amiss. */
export function ColumnsCompared({ check, onMatch }: Props) {
  const matched = new Map(check.matching.map((one) => [one.predictor, one]));
  const needsWord = (one: ComparedPredictor) =>
    !one.isUnused && (one.treatment !== '' || isShifted(one) || matched.has(one.name));
  const amiss = check.predictors.filter(needsWord);
  const fine = check.predictors.filter((one) => !needsWord(one) && !one.isUnused);
  const unused = check.predictors.filter((one) => !needsWord(one) && one.isUnused);
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
              className={
                one.absent || one.newLevels.length > 0 || one.unfamiliar.length > 0
                  ? styles.grave
                  : undefined
              }
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
              <td>
                {matched.has(one.name) && (
                  <span className={styles.matched}>{matchText(matched.get(one.name)!)}</span>
                )}
                {withUnit(one) && <span>{withUnit(one)}</span>}
                {one.unfamiliar.length > 0 && (
                  <span className={styles.strange}>
                    {one.unfamiliar
                      .map((what) =>
                        what.displaced
                          ? unfamiliarText(one, what)
                          : `${unfamiliarText(one, what)}: ${thenText(what.then)}`,
                      )
                      .join('; ')}
                  </span>
                )}
                {onMatch && (
                  <button
                    type="button"
                    className="link"
                    aria-label={`Match ${display(one)}`}
                    onClick={() => onMatch(one.name)}
                  >
                    {matched.has(one.name) ? 'change' : 'match'}
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {fine.length > 0 && (
        <p className={styles.rest}>
          {plural(fine.length, 'predictor')} as expected, complete and within the range of the
          development patients:{' '}
          {fine.map((one, i) => (
            <span key={one.name}>
              {i > 0 && ', '}
              {onMatch ? (
                <button
                  type="button"
                  className={styles.plain}
                  title={`Match ${display(one)}`}
                  onClick={() => onMatch(one.name)}
                >
                  {display(one)}
                </button>
              ) : (
                display(one)
              )}
            </span>
          ))}
          .
        </p>
      )}
      {unused.length > 0 && (
        <p className={styles.rest}>
          {plural(unused.length, 'predictor')} offered, but not used by the model:{' '}
          {unused.map(display).join(', ')}.
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

function thenText(then: number): string {
  return then === 0
    ? 'no development patient had it'
    : `${plural(then, 'development patient')} had it`;
}

function matchText({ predictor, column, conversion, levels }: CohortCheck['matching'][number]) {
  const parts = column === predictor ? [] : [`column ${column}`];
  if (conversion) {
    const { from, factor, offset } = conversion;
    const plus = offset === 0 ? '' : ` ${offset < 0 ? '−' : '+'} ${showValue(Math.abs(offset))}`;
    parts.push(`${from ? `read as ${from}, ` : ''}× ${showValue(factor)}${plus}`);
  }
  for (const { from, to } of levels ?? []) parts.push(`${from} is ${to || 'not known'}`);
  return parts.join(', ');
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
  const show = (value: number) => showDigits(value, 3);
  return `${show(then)} → ${show(now)}${unit ? ` ${unit}` : ''}`;
}
