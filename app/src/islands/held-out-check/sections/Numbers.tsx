import { useMemo, useState } from 'react';
import {
  numberAgreement,
  withinTolerance,
  type Clusters,
  type Figure,
  type NumberAgreement,
} from '@rook-scale/core/measures';
import type { Model } from '@rook-scale/core/model';
import { showInUnit, showInterval, showPercent } from '../../../browser/format.ts';
import { roundDigits, showDigits, showFixed } from '../../../browser/numbers.ts';
import { NumberField, SavedTable } from '../../../components/index.ts';
import { ObservedChart } from './ObservedChart.tsx';
import { ResidualChart } from './ResidualChart.tsx';
import type { SectionProps } from './section.ts';
import styles from './Sections.module.css';

/** How far predicted numbers are from those observed, and how far the reference candidate's is. */
export function Numbers(props: SectionProps) {
  const { predictions, outcome } = props.whole!;
  if (predictions.kind !== 'number' || outcome.kind !== 'number') return null;
  return <Judged of={props} predicted={predictions.values} observed={outcome.values} />;
}

function Judged({
  of,
  ...numbers
}: {
  of: SectionProps;
  predicted: Float64Array;
  observed: Float64Array;
}) {
  const { observed } = numbers;
  const everybody = of.reference?.[0];
  const { clusters } = of.patients;
  const reference = useMemo(
    () =>
      everybody === undefined
        ? undefined
        : numberAgreement(
            observed,
            observed.map(() => everybody),
            1,
            clusters,
          ),
    [observed, everybody, clusters],
  );
  return (
    <NumberErrors
      {...numbers}
      {...{ of, clusters }}
      outcome={of.line.outcome!}
      beside={reference && { head: 'Reference', found: reference }}
    />
  );
}

interface NumberErrorsProps {
  predicted: Float64Array;
  observed: Float64Array;
  /** Where several rows are of one patient or group. */
  clusters: Clusters | undefined;
  outcome: Model['outcome'];
  /** Figures that stand beside these. */
  beside?: { head: string; found: NumberAgreement; whole?: boolean };
  /** The held-out patients, whose errors can be set against their columns. */
  of?: SectionProps;
}

/** Errors of predicted numbers: charts, figures with intervals, and the share within a tolerance. */
export function NumberErrors({
  of,
  predicted,
  observed,
  clusters,
  outcome,
  beside,
}: NumberErrorsProps) {
  const found = useMemo(
    () => numberAgreement(observed, predicted, 1, clusters),
    [observed, predicted, clusters],
  );
  if (!found) return <p className="quiet">Fewer than three patients: nothing can be told.</p>;
  return (
    <>
      <div className={styles.figures}>
        <ObservedChart {...{ predicted, observed, outcome }} />
        <ResidualChart {...{ of, predicted, observed, found }} unit={outcome.unit} />
      </div>
      <FiguresTable {...{ found, beside }} unit={outcome.unit} />
      <Within {...{ predicted, observed, found, clusters }} unit={outcome.unit} />
    </>
  );
}

interface Row {
  name: string;
  figure: Figure;
  /** The same figure of others. */
  beside?: Figure;
  says: string;
  /** Not in the outcome's unit. */
  bare?: true;
}

function FiguresTable({
  found,
  beside,
  unit,
}: {
  found: NumberAgreement;
  beside: NumberErrorsProps['beside'];
  unit: string;
}) {
  const { limits, line } = found;
  const other = beside?.found;
  // The reference candidate has no bias and no slope to compare: it predicts one number.
  const whole = beside?.whole ? beside.found : undefined;
  const rows: Row[] = [
    {
      name: 'RMSE',
      figure: found.rootMeanSquare,
      beside: other?.rootMeanSquare,
      says: 'large errors count more',
    },
    {
      name: 'Mean absolute error',
      figure: found.meanAbsolute,
      beside: other?.meanAbsolute,
      says: 'how far off on average',
    },
    {
      name: 'Median error',
      figure: found.medianAbsolute,
      beside: other?.medianAbsolute,
      says: 'half are less far off',
    },
    {
      name: 'R²',
      figure: found.rSquared,
      beside: other?.rSquared,
      bare: true,
      says: 'share of the spread explained',
    },
    {
      name: 'Predicted too high by',
      figure: found.bias,
      beside: other?.bias,
      says: 'on average',
    },
    {
      name: 'Limits of agreement',
      figure: limits.lower,
      beside: whole?.limits.lower,
      says: 'predicted less observed: 95 of 100 lie above this',
    },
    {
      name: 'Upper limit',
      figure: limits.upper,
      beside: whole?.limits.upper,
      says: 'and below this',
    },
    ...(line
      ? [
          {
            name: 'Calibration slope',
            figure: line.slope,
            beside: whole?.line?.slope,
            bare: true as const,
            says: 'of observed on predicted; 1 is right',
          },
          {
            name: 'Calibration constant',
            figure: line.constant,
            beside: whole?.line?.constant,
            says: '0 is right',
          },
        ]
      : []),
  ];
  return (
    <SavedTable fileName="how-far-off">
      <table className={`${styles.table} ${styles.rates}`} aria-label="How far off">
        <thead>
          <tr>
            <th scope="col">Figure</th>
            <th scope="col">Value</th>
            <th scope="col">95% interval</th>
            {beside && <th scope="col">{beside.head}</th>}
            <th scope="col" className={styles.sentence}>
              What it says
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map(({ name, figure: { value, interval }, beside: second, says, bare }) => {
            const show = (one: number) => (bare ? showFixed(one, 2) : short(one)).replace('-', '−');
            return (
              <tr key={name}>
                <th scope="row">{name}</th>
                <td className={styles.value}>
                  {value === undefined
                    ? '–'
                    : bare
                      ? show(value)
                      : showInUnit(Number(short(value)), unit).replace('-', '−')}
                </td>
                <td>{interval?.map(show).join(' to ') ?? '–'}</td>
                {beside && <td>{second?.value === undefined ? '' : show(second.value)}</td>}
                <td className={styles.sentence}>{says}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </SavedTable>
  );
}

const short = (value: number) => showDigits(value, 3);

function Within({
  predicted,
  observed,
  found,
  unit,
  clusters,
}: {
  predicted: Float64Array;
  observed: Float64Array;
  found: NumberAgreement;
  unit: string;
  clusters: Clusters | undefined;
}) {
  const usual = roundDigits(found.meanAbsolute.value ?? 1, 1);
  const [tolerance, setTolerance] = useState(usual > 0 ? usual : 1);
  const share = withinTolerance(observed, predicted, tolerance, clusters);
  return (
    <div className={styles.asked}>
      <NumberField
        label="Within a tolerance of"
        value={tolerance}
        least={0}
        most={1e9}
        suffix={unit}
        onChange={setTolerance}
      />
      <p>
        {share.count} of {share.total} patients, {showPercent(share.value ?? 0)}{' '}
        <span className="quiet">{showInterval(share.interval)}</span>, are predicted so well.
      </p>
    </div>
  );
}
