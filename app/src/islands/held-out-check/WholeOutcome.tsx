import { useMemo } from 'react';
import {
  giveLevels,
  levelKappa,
  levelRates,
  levelTable,
  numberErrors,
  type LevelTable,
} from '@rook-scale/core/measures';
import {
  unpackOutcome,
  unpackPredictions,
  type Outcome,
  type Predictions,
} from '@rook-scale/core/outcome';
import type { Model } from '@rook-scale/core/screening';
import { unpackBytes } from '../../browser/api.ts';
import {
  showCount,
  showInterval,
  showInUnit,
  showPercent,
  showRate,
} from '../../browser/format.ts';
import type { CandidateLine, Predictions as Packed } from '../../server/candidates/index.ts';
import { ObservedChart } from './ObservedChart.tsx';
import styles from './WholeOutcome.module.css';

/** What the error table of cases does not say: every level, or how far the numbers are off. */
export function WholeOutcome({
  whole,
  line,
}: {
  whole: NonNullable<Packed['whole']>;
  line: CandidateLine;
}) {
  const judged = useMemo(() => {
    const { header } = whole;
    return {
      predictions: unpackPredictions({ header, bytes: unpackBytes(whole.values) }),
      outcome: unpackOutcome({ header, bytes: unpackBytes(whole.outcome) }),
    };
  }, [whole]);
  const { predictions, outcome } = judged;
  if (predictions.kind === 'levels' && outcome.kind === 'levels')
    return <Levels predictions={predictions} outcome={outcome} />;
  if (predictions.kind === 'number' && outcome.kind === 'number')
    return (
      <Numbers
        predicted={predictions.values}
        observed={outcome.values}
        outcome={line.outcome!}
        name={line.name}
      />
    );
  return null;
}

function Levels({
  predictions,
  outcome,
}: {
  predictions: Predictions<'levels'>;
  outcome: Outcome<'levels'>;
}) {
  const table = useMemo(
    () => levelTable(outcome, giveLevels(predictions, { rule: 'likeliest' })),
    [predictions, outcome],
  );
  const plain = levelKappa(table, 'none');
  const weighted = levelKappa(table, 'quadratic');
  return (
    <div className={styles.levels}>
      <CountTable table={table} />
      <section>
        <h2>Each level against the others</h2>
        <table className={styles.rates}>
          <thead>
            <tr>
              <th scope="col">Level</th>
              <th scope="col">Sensitivity</th>
              <th scope="col">Specificity</th>
              <th scope="col">PPV</th>
              <th scope="col">NPV</th>
            </tr>
          </thead>
          <tbody>
            {levelRates(table).map((one) => (
              <tr key={one.level}>
                <th scope="row">{one.level}</th>
                {[
                  one.sensitivity,
                  one.specificity,
                  one.positivePredictiveValue,
                  one.negativePredictiveValue,
                ].map((rate, i) => (
                  <td
                    key={i}
                    title={`${rate.count} of ${rate.total}, 95% interval ${showInterval(rate.interval)}`}
                  >
                    {showRate(rate)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
        <p>
          Kappa <span className="figures">{showRate(plain)}</span>{' '}
          <span className="quiet">{showInterval(plain.interval)}</span>
          {outcome.ordered && (
            <>
              ; weighted by squared distance <span className="figures">{showRate(weighted)}</span>{' '}
              <span className="quiet">{showInterval(weighted.interval)}</span>
            </>
          )}
        </p>
      </section>
    </div>
  );
}

/** True level in rows, likeliest level in columns: counts, and the share of each row. */
function CountTable({ table: { levels, counts } }: { table: LevelTable }) {
  const rows = counts.map((row) => row.reduce((sum, count) => sum + count, 0));
  return (
    <section>
      <h2>Every level</h2>
      <div className={styles.scroller} tabIndex={0} role="region" aria-label="Every level">
        <table className={styles.counts}>
          <caption>True level in rows, likeliest level in columns; share of each row below</caption>
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
                    <span>{rows[i] > 0 ? showPercent(count / rows[i]) : '–'}</span>
                  </td>
                ))}
                <td>{showCount(rows[i])}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function Numbers({
  predicted,
  observed,
  outcome,
  name,
}: {
  predicted: Float64Array;
  observed: Float64Array;
  outcome: Model['outcome'];
  name: string;
}) {
  const errors = numberErrors(observed, predicted);
  if (!errors) return null;
  const short = (value: number) => showInUnit(Number(value.toPrecision(3)), outcome.unit);
  return (
    <div className={styles.levels}>
      <ObservedChart predicted={predicted} observed={observed} outcome={outcome} />
      <section>
        <h2>How far {name} is off</h2>
        <dl className={styles.errors}>
          <div>
            <dt>RMSE</dt>
            <dd>{short(errors.rootMeanSquare)}</dd>
          </div>
          <div>
            <dt>Mean absolute error</dt>
            <dd>{short(errors.meanAbsolute)}</dd>
          </div>
          <div>
            <dt>R²</dt>
            <dd>{errors.rSquared === undefined ? '–' : errors.rSquared.toFixed(2)}</dd>
          </div>
          <div>
            <dt>Predicted too high by</dt>
            <dd>{short(errors.bias)}</dd>
          </div>
        </dl>
        <p className="quiet">
          The reference candidate, which gives everybody the development patients’ mean, has an R²
          of about 0.
        </p>
      </section>
    </div>
  );
}
