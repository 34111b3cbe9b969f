import { ratesOf, type ErrorTable, type Figure, type Rate } from '@rook-scale/core/measures';
import { showCount, showInterval, showRate } from '../../browser/format.ts';
import { IntervalStrip } from '../../components/index.ts';
import styles from './RatesTable.module.css';

/** Every rate with its fraction and 95% interval; accuracy never without the majority baseline. */
export function RatesTable({ table }: { table: ErrorTable }) {
  const rates = ratesOf(table);
  const baseline = rates.majorityBaseline.value;
  return (
    <section className={styles.rates}>
      <h2>Rates</h2>
      <table>
        <thead>
          <tr>
            <th scope="col">Rate</th>
            <th scope="col">Value</th>
            <th scope="col">Fraction</th>
            <th scope="col">95% interval</th>
            <th scope="col" className={styles.ends}>
              <span>0</span>
              <span>1</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <Proportion name="Sensitivity" rate={rates.sensitivity} />
          <Proportion name="Specificity" rate={rates.specificity} />
          <Proportion name="Positive predictive value" rate={rates.positivePredictiveValue} />
          <Proportion name="Negative predictive value" rate={rates.negativePredictiveValue} />
          <Proportion
            name="Accuracy"
            more={`majority baseline ${showRate(rates.majorityBaseline)}`}
            rate={rates.accuracy}
            beside={baseline}
          />
          <Other name="Likelihood ratio if called in" figure={rates.positiveLikelihoodRatio} />
          <Other name="Likelihood ratio if left alone" figure={rates.negativeLikelihoodRatio} />
          <Other
            name="Kappa"
            more="agreement of call and outcome beyond chance"
            figure={rates.kappa}
            strip
          />
        </tbody>
      </table>
    </section>
  );
}

function Proportion({
  name,
  rate,
  more,
  beside,
}: {
  name: string;
  rate: Rate;
  more?: string;
  beside?: number;
}) {
  return (
    <tr>
      <th scope="row">
        {name} {more && <span className="quiet">{more}</span>}
      </th>
      <td className={styles.value}>{showRate(rate)}</td>
      <td>{`${showCount(rate.count)} of ${showCount(rate.total)}`}</td>
      <td>{showInterval(rate.interval)}</td>
      <td className={styles.strip}>
        <IntervalStrip value={rate.value} interval={rate.interval} beside={beside} />
      </td>
    </tr>
  );
}

function Other({
  name,
  figure,
  more,
  strip,
}: {
  name: string;
  figure: Figure;
  more?: string;
  strip?: boolean;
}) {
  const digits = figure.value !== undefined && figure.value >= 10 ? 1 : 2;
  return (
    <tr>
      <th scope="row">
        {name} {more && <span className="quiet">{more}</span>}
      </th>
      <td className={styles.value}>
        {figure.value === undefined ? '–' : figure.value.toFixed(digits)}
      </td>
      <td />
      <td>{showInterval(figure.interval, digits)}</td>
      <td className={styles.strip}>
        {strip && <IntervalStrip value={figure.value} interval={figure.interval} />}
      </td>
    </tr>
  );
}
