import { useMemo } from 'react';
import {
  giveLevels,
  levelKappa,
  levelRates,
  levelRule,
  levelTable,
  numberErrors,
} from '@rook-scale/core/measures';
import {
  unpackOutcome,
  unpackPredictions,
  type Outcome,
  type Predictions,
} from '@rook-scale/core/outcome';
import { levelCostsOf, type Design } from '@rook-scale/core/design';
import type { Model } from '@rook-scale/core/model';
import type { CandidateLine, Predictions as Packed } from '../../contract/candidates.ts';
import { unpackBytes } from '../../browser/api.ts';
import { showInterval, showInUnit, showRate } from '../../browser/format.ts';
import { LevelCounts } from './LevelCounts.tsx';
import { ObservedChart } from './ObservedChart.tsx';
import styles from './WholeOutcome.module.css';

/** What the error table of cases does not say: every level, or how far the numbers are off. */
export function WholeOutcome({
  whole,
  line,
  levelCosts,
}: {
  whole: NonNullable<Packed['whole']>;
  line: CandidateLine;
  levelCosts: Design['levelCosts'];
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
    return (
      <Levels
        predictions={predictions}
        outcome={outcome}
        costs={levelCostsOf({ levelCosts }, predictions.levels)}
      />
    );
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
  costs,
}: {
  predictions: Predictions<'levels'>;
  outcome: Outcome<'levels'>;
  /** Undefined where every error costs the same. */
  costs: number[][] | undefined;
}) {
  const table = levelTable(outcome, giveLevels(predictions, levelRule(costs)));
  const plain = levelKappa(table, 'none');
  const weighted = levelKappa(table, 'quadratic');
  return (
    <div className={styles.levels}>
      <LevelCounts table={table} costs={costs} />
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
