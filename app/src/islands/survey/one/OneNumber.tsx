import { useState } from 'react';
import type { OneNumber as Viewed } from '@rook-scale/core/survey';
import { showDay, type DictionaryEntry } from '@rook-scale/core/table';
import { plural, roundBySpread, showCount, showValue } from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { useSurvey, withUnit } from '../context.ts';
import { marksOf } from '../marks.ts';
import styles from '../Survey.module.css';
import { useCalculation } from '../use-calculation.ts';
import { useColumns } from '../use-columns.ts';
import { Waiting } from '../Waiting.tsx';
import { BoxesAndViolins } from './BoxesAndViolins.tsx';
import { HistogramChart } from './HistogramChart.tsx';
import { Outliers } from './Outliers.tsx';
import { QuantileChart } from './QuantileChart.tsx';
import { Reshape } from './Reshape.tsx';
import { SharesChart } from './SharesChart.tsx';

interface Props {
  entry: DictionaryEntry;
  by: DictionaryEntry | undefined;
  title: string;
}

/** A number, or dates, drawn in every way that shows something else. */
export function OneNumber({ entry, by, title }: Props) {
  const { design, version, look } = useSurvey();
  const { columns, problem } = useColumns(by ? [entry.name, by.name] : [entry.name]);
  const [bins, setBins] = useState<number>();
  const [column, groups] = columns ?? [];
  const values = column?.type === 'number' ? column.values : undefined;
  const grouping =
    groups?.type === 'coded' ? { codes: groups.codes, levels: groups.levels.length } : undefined;
  const { result: view, problem: failed } = useCalculation(
    'number',
    [version, look, entry.name, by?.name, bins],
    values && [values, grouping, bins],
  );
  if (!values || !view)
    return values && failed === undefined && values.every(Number.isNaN) ? (
      <p>Nothing is known of {title} in these patients.</p>
    ) : (
      <Waiting problem={problem ?? failed} what={title} />
    );
  const marks = by ? marksOf(by, design) : [];
  const isDate = entry.kind === 'date';
  const axis = { name: withUnit(entry), show: isDate ? showDay : showValue };
  return (
    <>
      <Facts view={view} patients={values.length} show={axis.show} isDate={isDate} />
      <div className={styles.two}>
        <HistogramChart view={view} axis={axis} marks={marks} bins={bins} onBins={setBins} />
        {view.groups && by ? (
          <BoxesAndViolins groups={view.groups} marks={marks} axis={axis} by={by} view={view} />
        ) : (
          <QuantileChart view={view} axis={axis} />
        )}
        {view.shares && by && (
          <SharesChart shares={view.shares} marks={marks} axis={axis} by={by} view={view} />
        )}
        {view.groups && <QuantileChart view={view} axis={axis} />}
      </div>
      {!isDate && <Reshape entry={entry} values={values} skewness={view.description.skewness} />}
      <Outliers values={values} fences={view.description.fences} axis={axis} />
    </>
  );
}

export interface Axis {
  name: string;
  show: (value: number) => string;
}

interface FactsProps {
  view: Viewed;
  patients: number;
  show: (value: number) => string;
  isDate: boolean;
}

function Facts({ view: { description }, patients, show, isDate }: FactsProps) {
  const { mean, sd, least, lowerQuartile, median, upperQuartile, greatest } = description;
  const known = description.histogram.counts.reduce((sum, count) => sum + count, 0);
  const facts: [string, string][] = [
    ['known in', plural(known, 'patient')],
    ['not known', patients === known ? 'in none' : showCount(patients - known)],
    ...(isDate
      ? []
      : ([
          ['mean', show(roundBySpread(mean, sd))],
          ['SD', show(roundBySpread(sd, sd))],
        ] as [string, string][])),
    ['median', show(median)],
    ['quartiles', `${show(lowerQuartile)} – ${show(upperQuartile)}`],
    ['range', `${show(least)} – ${show(greatest)}`],
    ...(isDate || description.skewness === undefined
      ? []
      : ([['skewness', showFixed(description.skewness, 2)]] as [string, string][])),
  ];
  return (
    <dl className={styles.facts}>
      {facts.map(([name, value]) => (
        <div key={name}>
          <dt>{name}</dt>
          <dd>{value}</dd>
        </div>
      ))}
    </dl>
  );
}
