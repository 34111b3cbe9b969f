import { useMemo, useState } from 'react';
import {
  numberAgreement,
  withinTolerance,
  type Figure,
  type NumberAgreement,
} from '@rook-scale/core/measures';
import { showInUnit, showInterval, showPercent } from '../../../browser/format.ts';
import { NumberField } from '../../../components/index.ts';
import { ObservedChart } from './ObservedChart.tsx';
import { ResidualChart } from './ResidualChart.tsx';
import type { SectionProps } from './section.ts';
import styles from './Sections.module.css';

/** How far predicted numbers are from those observed. */
export function Numbers({ whole, line }: SectionProps) {
  const { predictions, outcome } = whole!;
  if (predictions.kind !== 'number' || outcome.kind !== 'number') return null;
  return (
    <Judged predicted={predictions.values} observed={outcome.values} predicts={line.outcome!} />
  );
}

function Judged({
  predicted,
  observed,
  predicts,
}: {
  predicted: Float64Array;
  observed: Float64Array;
  predicts: NonNullable<SectionProps['line']['outcome']>;
}) {
  const found = useMemo(() => numberAgreement(observed, predicted), [observed, predicted]);
  if (!found) return <p className="quiet">Fewer than three patients: nothing can be told.</p>;
  return (
    <>
      <div className={styles.figures}>
        <ObservedChart {...{ predicted, observed }} outcome={predicts} />
        <ResidualChart {...{ predicted, observed, found }} unit={predicts.unit} />
      </div>
      <FiguresTable found={found} unit={predicts.unit} />
      <Within {...{ predicted, observed, found }} unit={predicts.unit} />
    </>
  );
}

interface Row {
  name: string;
  figure: Figure;
  says: string;
  /** Not in the outcome's unit. */
  bare?: true;
}

function FiguresTable({ found, unit }: { found: NumberAgreement; unit: string }) {
  const { limits, line } = found;
  const rows: Row[] = [
    { name: 'RMSE', figure: found.rootMeanSquare, says: 'large errors count more' },
    { name: 'Mean absolute error', figure: found.meanAbsolute, says: 'how far off on average' },
    { name: 'Median error', figure: found.medianAbsolute, says: 'half are less far off' },
    {
      name: 'R²',
      figure: found.rSquared,
      bare: true,
      says: 'share of the spread explained; the reference candidate has about 0',
    },
    { name: 'Predicted too high by', figure: found.bias, says: 'on average' },
    {
      name: 'Limits of agreement',
      figure: limits.lower,
      says: 'predicted less observed: 95 of 100 lie above this',
    },
    { name: 'Upper limit', figure: limits.upper, says: 'and below this' },
    ...(line
      ? [
          {
            name: 'Calibration slope',
            figure: line.slope,
            bare: true as const,
            says: 'of observed on predicted; 1 is right',
          },
          { name: 'Calibration constant', figure: line.constant, says: '0 is right' },
        ]
      : []),
  ];
  return (
    <table className={`${styles.table} ${styles.rates}`} aria-label="How far off">
      <thead>
        <tr>
          <th scope="col">Figure</th>
          <th scope="col">Value</th>
          <th scope="col">95% interval</th>
          <th scope="col" className={styles.sentence}>
            What it says
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ name, figure: { value, interval }, says, bare }) => {
          const show = (one: number) => (bare ? one.toFixed(2) : short(one)).replace('-', '−');
          return (
            <tr key={name}>
              <th scope="row">{name}</th>
              <td className={styles.value}>
                {value === undefined
                  ? '–'
                  : bare
                    ? show(value)
                    : showInUnit(Number(short(value)), unit)}
              </td>
              <td>{interval?.map(show).join(' to ') ?? '–'}</td>
              <td className={styles.sentence}>{says}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

const short = (value: number) => String(Number(value.toPrecision(3)));

function Within({
  predicted,
  observed,
  found,
  unit,
}: {
  predicted: Float64Array;
  observed: Float64Array;
  found: NumberAgreement;
  unit: string;
}) {
  const usual = Number((found.meanAbsolute.value ?? 1).toPrecision(1));
  const [tolerance, setTolerance] = useState(usual > 0 ? usual : 1);
  const share = withinTolerance(observed, predicted, tolerance);
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
