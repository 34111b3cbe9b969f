import { useMemo, useState } from 'react';
import type { ColumnDescription, Relation } from '@rook-scale/core/survey';
import { display, isCoded, showDay, type DictionaryEntry } from '@rook-scale/core/table';
import { setAddress } from '../../../browser/address.ts';
import {
  plural,
  roundBySpread,
  showCount,
  showPercent,
  showValue,
} from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { DataTable, type DataColumn } from '../../../components/index.ts';
import { useSurvey } from '../context.ts';
import { measureSigns } from '../measure-signs.ts';
import { usePart } from '../use-part.ts';
import { Waiting } from '../Waiting.tsx';
import { ColumnFilter, keeps, noFilter } from './ColumnFilter.tsx';
import styles from './Columns.module.css';
import { MiniHistogram } from './MiniHistogram.tsx';

/** One line of the overview. */
export interface ColumnLine {
  entry: DictionaryEntry;
  description: ColumnDescription;
  relation: Relation | undefined;
  patients: number;
}

/** Every column as one row: what it is like and how it goes with the outcome. */
export function ColumnsView() {
  const { cohort, design } = useSurvey();
  const { result, unfinished, problem } = usePart('columns');
  const against = design && (design.event || design.kind !== 'event') ? design.outcome : '';
  const { result: related } = usePart('relations', { against }, against !== '');
  const [filter, setFilter] = useState(noFilter);
  const lines = useMemo(() => {
    const relations = new Map(related?.relations.map((one) => [one.name, one]));
    const descriptions = new Map(result?.columns.map((one) => [one.name, one]));
    return cohort.dictionary.flatMap((entry): ColumnLine[] => {
      const description = descriptions.get(entry.name);
      const relation = relations.get(entry.name);
      return description && result
        ? [{ entry, description, relation, patients: result.patients }]
        : [];
    });
  }, [cohort, result, related]);
  const columns = useMemo(() => overviewColumns(against !== ''), [against]);
  if (!result) return <Waiting problem={problem} what="the columns" />;
  const shown = lines.filter((line) => keeps(filter, line));
  return (
    <>
      <ColumnFilter filter={filter} onChange={setFilter} withRelation={against !== ''}>
        {shown.length === lines.length
          ? plural(lines.length, 'column')
          : `${shown.length} of ${plural(lines.length, 'column')}`}
        {unfinished && `, ${unfinished}`}
      </ColumnFilter>
      <DataTable
        caption="Every column described"
        columns={columns}
        rows={shown}
        rowKey={({ entry }) => entry.name}
        rowClass={({ entry }) => (entry.role === 'set aside' ? styles.aside : undefined)}
        onRow={({ entry }) => setAddress({ view: 'one', column: entry.name })}
        empty="No column is like that."
      />
    </>
  );
}

function overviewColumns(withRelation: boolean): DataColumn<ColumnLine>[] {
  const number = (line: ColumnLine) => line.description.numbers;
  return [
    {
      key: 'name',
      head: 'Column',
      cell: ({ entry }) => (
        <span className={styles.name} title={`${entry.name}, ${entry.kind}, ${entry.role}`}>
          {display(entry)}
          {entry.unit && <span className="quiet">, {entry.unit}</span>}
        </span>
      ),
      sort: ({ entry }) => display(entry).toLowerCase(),
    },
    {
      key: 'gaps',
      head: 'Gaps',
      title: 'Patients in whom it is not known',
      figures: true,
      cell: ({ description, patients }) => <Gap missing={description.missing} of={patients} />,
      sort: ({ description }) => description.missing,
    },
    {
      key: 'different',
      head: 'Diff.',
      title: 'How many different values, or levels in use',
      figures: true,
      cell: ({ description }) => showCount(description.different),
      sort: ({ description }) => description.different,
    },
    {
      key: 'mean',
      head: 'Mean, SD',
      title: 'Of the known values; of yes/no columns the share of yes',
      right: true,
      cell: (line) => <Centre line={line} />,
      sort: (line) => number(line)?.mean,
    },
    {
      key: 'five',
      head: 'Range and quartiles',
      title:
        'Least, lower quartile, median, upper quartile, greatest; the most frequent levels with their shares',
      right: true,
      cell: (line) => <Five line={line} />,
      sort: (line) => number(line)?.median,
    },
    {
      key: 'skewness',
      head: 'Skew',
      title: 'Skewness: beyond ±1 the tails are unlike',
      figures: true,
      cell: (line) => {
        const skewness = number(line)?.skewness;
        return isDateLine(line) || typeof skewness !== 'number' ? '' : showFixed(skewness, 1);
      },
      sort: (line) => (isDateLine(line) ? undefined : number(line)?.skewness),
    },
    {
      key: 'outliers',
      head: 'Outl.',
      title: 'Outliers: more than 1.5 interquartile ranges outside the quartiles',
      figures: true,
      cell: (line) => {
        const outliers = number(line)?.outliers;
        return outliers === undefined ? '' : outliers === 0 ? '–' : showCount(outliers);
      },
      sort: (line) => number(line)?.outliers,
    },
    {
      key: 'shape',
      head: 'Shape',
      cell: ({ description, entry }) => <MiniHistogram description={description} entry={entry} />,
    },
    ...(withRelation ? [relationColumn] : []),
  ];
}

const relationColumn: DataColumn<ColumnLine> = {
  key: 'relation',
  head: 'Outcome',
  title:
    'Relation to the outcome, by the measure that suits both: AUC, Cramér’s V, correlation ratio η or Spearman’s ρ. Sorted by the information each holds',
  figures: true,
  cell: ({ relation }) =>
    relation ? (
      <span
        title={`${relation.measure}, ${plural(relation.patients, 'patient')}; takes away ${showPercent(relation.information)} of the outcome’s uncertainty`}
      >
        <span className={styles.measure}>{measureSigns[relation.measure]}</span>{' '}
        {showFixed(relation.strength.value, 2)}
      </span>
    ) : (
      ''
    ),
  sort: ({ relation }) => relation?.information,
};

const isDateLine = ({ entry }: ColumnLine) => entry.kind === 'date';

function Gap({ missing, of }: { missing: number; of: number }) {
  if (missing === 0) return <>–</>;
  const share = missing / of;
  return (
    <span className={styles.gap} title={`Not known in ${plural(missing, 'patient')}`}>
      {showPercent(share)}
      <span className={styles.bar}>
        <span style={{ width: `${100 * share}%` }} />
      </span>
    </span>
  );
}

function Centre({ line }: { line: ColumnLine }) {
  const { entry, description, patients } = line;
  const { numbers, counts } = description;
  if (entry.kind === 'date') return null;
  if (numbers)
    return (
      <span className={styles.figures}>
        {showValue(roundBySpread(numbers.mean, numbers.sd))}{' '}
        <span className="quiet">±{showValue(roundBySpread(numbers.sd, numbers.sd))}</span>
      </span>
    );
  if (!counts || entry.kind !== 'yes/no') return null;
  const known = Math.max(1, patients - description.missing);
  const yes = counts[entry.levels?.indexOf('yes') ?? 1];
  return <span className={styles.figures}>yes {showPercent(yes / known)}</span>;
}

function Five({ line }: { line: ColumnLine }) {
  const { entry, description } = line;
  const { numbers } = description;
  if (!numbers) return <Levels line={line} />;
  const { least, lowerQuartile, median, upperQuartile, greatest } = numbers;
  if (entry.kind === 'date')
    return (
      <span className={styles.figures}>
        {showDay(least)} · {showDay(greatest)}
      </span>
    );
  // As many digits as the spread gives reason for: more only make the table wider than its pane.
  const show = (value: number) => showValue(roundBySpread(value, numbers.sd / 10));
  return (
    <span className={styles.figures}>
      <span className="quiet">{show(least)}</span> · {show(lowerQuartile)}{' '}
      <strong>{show(median)}</strong> {show(upperQuartile)} ·{' '}
      <span className="quiet">{show(greatest)}</span>
    </span>
  );
}

/** The most frequent levels. */
function Levels({ line: { entry, description, patients } }: { line: ColumnLine }) {
  const { counts, missing } = description;
  if (!counts || !isCoded(entry.kind) || entry.kind === 'yes/no') return null;
  const text = counts
    .map((count, i) => ({ level: entry.levels?.[i] ?? '', count }))
    .sort((a, b) => b.count - a.count)
    .slice(0, 4)
    .map(({ level, count }) => `${level} ${showPercent(count / Math.max(1, patients - missing))}`)
    .join(', ');
  return (
    <span className={styles.levels} title={text}>
      {text}
    </span>
  );
}
