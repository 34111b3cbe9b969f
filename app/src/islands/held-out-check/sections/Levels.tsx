import { useMemo } from 'react';
import {
  giveLevels,
  levelAreas,
  levelKappa,
  levelRates,
  levelRule,
  levelTable,
  rate,
  type Clusters,
  type LevelRows,
  type LevelTable,
  type Rate,
} from '@rook-scale/core/measures';
import type { Outcome, Predictions } from '@rook-scale/core/outcome';
import { showCount, showInterval, showPercent, showRate } from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { LevelCounts } from './LevelCounts.tsx';
import { OneLevel } from './OneLevel.tsx';
import type { SectionProps } from './section.ts';
import { SavedTable } from '../../../components/index.ts';
import styles from './Sections.module.css';

/** Every level: counts and costs, rates of each against the others, how patients are ranked. */
export function Levels({ whole, levelCosts, line, table, cutoff, patients }: SectionProps) {
  const { predictions, outcome } = whole!;
  if (predictions.kind !== 'levels' || outcome.kind !== 'levels') return null;
  const { cases } = line.outcome!;
  const given = giveLevels(predictions, levelRule(levelCosts));
  const asCases =
    cases.kind === 'levels'
      ? given.reduce((n, code) => n + Number(cases.levels.includes(predictions.levels[code])), 0)
      : 0;
  return (
    <>
      <p>
        Two rules. <strong>The cutoff calls in</strong>:{' '}
        {showCount(table.found + table.falseAlarms)} patients have a share of cases of{' '}
        {patients.scale.show(cutoff)} or more. The tables here give each patient one level, the{' '}
        {levelCosts ? 'one with the lowest expected cost' : 'likeliest'}; {showCount(asCases)}{' '}
        patients are given a level that is a case.
      </p>
      <LevelErrors {...{ predictions, outcome, costs: levelCosts }} clusters={patients.clusters} />
      <OneLevel {...{ predictions, outcome, line }} />
    </>
  );
}

/** Counts of levels, rates of each against the others, kappa and areas. */
export function LevelErrors({
  predictions,
  outcome,
  costs,
  clusters,
}: {
  predictions: Predictions<'levels'>;
  outcome: Outcome<'levels'>;
  /** Undefined where every error costs the same. */
  costs: number[][] | undefined;
  /** Where several rows are of one patient or group. */
  clusters: Clusters | undefined;
}) {
  const given = useMemo(() => giveLevels(predictions, levelRule(costs)), [predictions, costs]);
  const table = useMemo(() => levelTable(outcome, given), [outcome, given]);
  const areas = useMemo(
    () => levelAreas(outcome, predictions, clusters),
    [outcome, predictions, clusters],
  );
  const rows = useMemo(
    () => clusters && { values: outcome.values, given, clusters },
    [outcome, given, clusters],
  );
  const plain = useMemo(() => levelKappa(table, 'none', rows), [table, rows]);
  const weighted = useMemo(() => levelKappa(table, 'quadratic', rows), [table, rows]);
  return (
    <>
      <LevelCounts table={table} costs={costs} />
      <EachLevel table={table} areas={areas} rows={rows} />
      <p>
        Kappa <span className="figures">{showRate(plain)}</span>{' '}
        <span className="quiet">{showInterval(plain.interval)}</span>
        {outcome.ordered && (
          <>
            ; weighted by squared distance <span className="figures">{showRate(weighted)}</span>{' '}
            <span className="quiet">{showInterval(weighted.interval)}</span>
          </>
        )}
        {areas.pairs !== undefined && (
          <>
            . Average AUC over all pairs of levels (Hand and Till){' '}
            <span className="figures">{showFixed(areas.pairs, 2)}</span>
          </>
        )}
        .{outcome.ordered && ` ${distanceText(table)}`}
      </p>
    </>
  );
}

interface Figures {
  level: string;
  patients: number;
  values: { text: string; title?: string }[];
}

function EachLevel({
  table,
  areas,
  rows: dependent,
}: {
  table: LevelTable;
  areas: ReturnType<typeof levelAreas>;
  rows: LevelRows | undefined;
}) {
  const rates = useMemo(() => levelRates(table, dependent), [table, dependent]);
  const patients = table.counts.map((row) => row.reduce((sum, count) => sum + count, 0));
  const f1 = rates.map(({ sensitivity, positivePredictiveValue: value }) =>
    sensitivity.count === 0
      ? sensitivity.value
      : (2 * sensitivity.count) / (sensitivity.total + value.total),
  );
  const columns = [
    rates.map((one) => one.sensitivity),
    rates.map((one) => one.specificity),
    rates.map((one) => one.positivePredictiveValue),
    rates.map((one) => one.negativePredictiveValue),
  ];
  const numbers = [
    ...columns.map((column) => column.map(({ value }) => value)),
    f1,
    areas.levels.map(({ area }) => area?.value),
  ];
  const rows = rates.map(({ level }, k): Figures => ({
    level,
    patients: patients[k],
    values: [
      ...columns.map((column) => ({ text: showRate(column[k]), title: titleOf(column[k]) })),
      { text: showFixed(f1[k], 2) },
      {
        text: showFixed(areas.levels[k].area?.value, 2),
        title: `95% interval ${showInterval(areas.levels[k].area?.interval)}`,
      },
    ],
  }));
  const meanRow = (level: string, weights: number[]): Figures => ({
    level,
    patients: patients.reduce((sum, count) => sum + count, 0),
    values: numbers.map((column) => ({ text: showFixed(meanOf(column, weights), 2) })),
  });
  return (
    <SavedTable fileName="level-by-level">
      <table className={`${styles.table} ${styles.rates}`}>
        <caption>Each level against the others</caption>
        <thead>
          <tr>
            <th scope="col">Level</th>
            <th scope="col">Patients</th>
            {['Sensitivity', 'Specificity', 'PPV', 'NPV', 'F1', 'AUC'].map((head) => (
              <th scope="col" key={head}>
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {[
            ...rows,
            meanRow(
              'mean of levels',
              patients.map(() => 1),
            ),
            meanRow('mean of patients', patients),
          ].map(({ level, patients: count, values }) => (
            <tr key={level}>
              <th scope="row">{level}</th>
              <td>{count}</td>
              {values.map(({ text, title }, i) => (
                <td key={i} title={title}>
                  {text}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </SavedTable>
  );
}

const titleOf = ({ count, total, interval }: Rate) =>
  `${count} of ${total}, 95% interval ${showInterval(interval)}`;

/** Over what is known of it; undefined where nothing is. */
function meanOf(values: (number | undefined)[], weights: number[]): number | undefined {
  const known = values.flatMap((value, i) =>
    value === undefined || weights[i] === 0 ? [] : [{ value, weight: weights[i] }],
  );
  const sum = known.reduce((total, { weight }) => total + weight, 0);
  return sum === 0
    ? undefined
    : known.reduce((total, { value, weight }) => total + value * weight, 0) / sum;
}

/** How far off the given levels are, of levels that have an order. */
function distanceText({ counts }: LevelTable): string {
  const all = counts.flat().reduce((sum, count) => sum + count, 0);
  if (all === 0) return '';
  let [steps, far] = [0, 0];
  counts.forEach((row, i) =>
    row.forEach((count, j) => {
      steps += count * Math.abs(i - j);
      if (Math.abs(i - j) > 1) far += count;
    }),
  );
  const beyond = rate(far, all);
  return `Calls are ${showFixed(steps / all, 2)} levels off on average; ${far} of ${all} patients (${showPercent(far / all)}, 95% interval ${showInterval(beyond.interval)}) by more than one.`;
}
