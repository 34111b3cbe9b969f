import { ratesOf, type Figure, type Rate, type Rates } from '@rook-scale/core/measures';
import { showCount, showInterval, showRate } from '../../../browser/format.ts';
import { showDigits, showFixed } from '../../../browser/numbers.ts';
import { IntervalStrip, SavedTable } from '../../../components/index.ts';
import { casesIn, type SectionProps } from './section.ts';
import styles from './Sections.module.css';

type Says = (
  rates: Rates,
  table: SectionProps['table'],
  words: ReturnType<typeof casesIn>,
) => string;

interface Row {
  name: string;
  of: keyof Rates;
  says: Says;
  /** Lies between 0 and 1, so that it has a strip. */
  strip?: true;
}

/** How many of how many, within a sentence. */
const some = ({ count, total }: Rate) => `${showCount(count)} of ${showCount(total)}`;

/** Every rate, in the order of the question that it answers. */
const groups: { name: string; rows: Row[] }[] = [
  {
    name: 'Finding cases',
    rows: [
      {
        name: 'Sensitivity',
        of: 'sensitivity',
        strip: true,
        says: ({ sensitivity }, _, { cases }) => `${some(sensitivity)} ${cases} are called in.`,
      },
      {
        name: 'False negative rate',
        of: 'falseNegativeRate',
        strip: true,
        says: ({ falseNegativeRate }, _, { cases }) =>
          `${some(falseNegativeRate)} ${cases} are missed.`,
      },
      {
        name: 'Specificity',
        of: 'specificity',
        strip: true,
        says: ({ specificity }, _, { others }) => `${some(specificity)} ${others} are left alone.`,
      },
      {
        name: 'False positive rate',
        of: 'falsePositiveRate',
        strip: true,
        says: ({ falsePositiveRate }, _, { others }) =>
          `${some(falsePositiveRate)} ${others} are called in for nothing.`,
      },
    ],
  },
  {
    name: 'Trusting a call',
    rows: [
      {
        name: 'Positive predictive value',
        of: 'positivePredictiveValue',
        strip: true,
        says: ({ positivePredictiveValue }, _, { case: one }) =>
          `${some(positivePredictiveValue)} called in have ${one}.`,
      },
      {
        name: 'Negative predictive value',
        of: 'negativePredictiveValue',
        strip: true,
        says: ({ negativePredictiveValue }, _, { case: one }) =>
          `${some(negativePredictiveValue)} left alone do not have ${one}.`,
      },
      {
        name: 'Likelihood ratio if called in',
        of: 'positiveLikelihoodRatio',
        says: ({ positiveLikelihoodRatio: { value } }, _, { cases, others }) =>
          value === undefined
            ? ''
            : `Patients ${cases} are called in ${showDigits(value, 2)} times as often as those ${others}.`,
      },
      {
        name: 'Likelihood ratio if left alone',
        of: 'negativeLikelihoodRatio',
        says: ({ negativeLikelihoodRatio: { value } }, _, { cases, others }) =>
          value === undefined
            ? ''
            : `Patients ${cases} are left alone ${showDigits(value, 2)} times as often as those ${others}.`,
      },
    ],
  },
  {
    name: 'Overall',
    rows: [
      {
        name: 'Accuracy',
        of: 'accuracy',
        strip: true,
        says: ({ accuracy, majorityBaseline }) =>
          `${some(accuracy)} calls are right; ${showCount(majorityBaseline.count)} would be if all were given the same call.`,
      },
      {
        name: 'Balanced accuracy',
        of: 'balancedAccuracy',
        strip: true,
        says: () => 'The mean of sensitivity and specificity: 0.5 by chance.',
      },
      {
        name: 'F1',
        of: 'f1',
        strip: true,
        says: (_, { found, missed, falseAlarms }) =>
          `${showCount(found)} found beside ${showCount(missed)} missed and ${showCount(falseAlarms)} false alarms: the harmonic mean of sensitivity and positive predictive value.`,
      },
    ],
  },
  {
    name: 'Beyond chance',
    rows: [
      {
        name: 'Kappa',
        of: 'kappa',
        strip: true,
        says: () => 'Agreement of call and outcome beyond what chance would give.',
      },
      {
        name: 'Matthews correlation',
        of: 'matthews',
        strip: true,
        says: () => 'The correlation of call and outcome.',
      },
      {
        name: 'Youden’s index',
        of: 'youden',
        strip: true,
        says: ({ youden: { value } }, _, { others }) =>
          value === undefined
            ? ''
            : `Of 100 cases ${showFixed(Math.abs(100 * value), 0)} ${value < 0 ? 'fewer' : 'more'} are called in than of 100 ${others === 'without it' ? 'others' : others.replace('of the ', '')}.`,
      },
      {
        name: 'Diagnostic odds ratio',
        of: 'diagnosticOddsRatio',
        says: (_, { found, missed, falseAlarms, rightlyLeft }) =>
          `${showCount(found)} to ${showCount(missed)} against ${showCount(falseAlarms)} to ${showCount(rightlyLeft)}.`,
      },
    ],
  },
];

/** Every rate with its 95% interval and what it counts; accuracy never without the majority baseline. */
export function RatesTable({ table, words }: Pick<SectionProps, 'table' | 'words'>) {
  const rates = ratesOf(table);
  const said = casesIn(words);
  return (
    <SavedTable fileName="rates">
      <table className={`${styles.table} ${styles.rates}`} aria-label="Rates">
        <thead>
          <tr>
            <th scope="col">Rate</th>
            <th scope="col">Value</th>
            <th scope="col">95% interval</th>
            <th scope="col" className={styles.strip} title="From 0 to 1" aria-hidden="true" />
            <th scope="col" className={styles.sentence}>
              In these patients
            </th>
          </tr>
        </thead>
        {groups.map(({ name, rows }) => (
          <tbody key={name}>
            <tr className={styles.group}>
              <th scope="rowgroup" colSpan={5}>
                {name}
              </th>
            </tr>
            {rows.map((row) => (
              <RateRow key={row.of} row={row} figure={rates[row.of]} beside={besideOf(row, rates)}>
                {row.says(rates, table, said)}
              </RateRow>
            ))}
          </tbody>
        ))}
      </table>
    </SavedTable>
  );
}

const besideOf = ({ of }: Row, { majorityBaseline }: Rates) =>
  of === 'accuracy' ? majorityBaseline.value : undefined;

function RateRow({
  row: { name, strip },
  figure: { value, interval },
  beside,
  children,
}: {
  row: Row;
  figure: Figure;
  beside?: number;
  children: string;
}) {
  const digits = value !== undefined && value >= 10 ? 1 : 2;
  return (
    <tr>
      <th scope="row">{name}</th>
      <td className={styles.value}>{strip ? showRate({ value }) : showFixed(value, digits)}</td>
      <td>{showInterval(interval, digits)}</td>
      <td className={styles.strip}>
        {strip && <IntervalStrip {...{ value, interval, beside }} />}
      </td>
      <td className={styles.sentence}>
        {value === undefined ? 'Nobody to tell it by.' : children}
      </td>
    </tr>
  );
}
