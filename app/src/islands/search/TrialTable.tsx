import { useMemo } from 'react';
import type { SearchMeasure } from '@rook-scale/core/search';
import type { SearchDetail, SearchLine, TrialShown } from '../../contract/searches.ts';
import { compareKnown } from '../../browser/order.ts';
import { VirtualTable, type VirtualColumn } from '../../components/index.ts';
import { fieldsOfSearch, namesText, labelOf, showTried, valueText } from './words.ts';
import styles from './Search.module.css';

interface Props {
  line: SearchLine;
  detail: SearchDetail;
  measure: SearchMeasure;
  picked?: number;
  /** When the settings were read. */
  readAt: number;
  /** How a predictor is shown. */
  columnName: (name: string) => string;
  onPick: (number: number) => void;
}

/** All settings that were tried, the best first. */
export function TrialTable({ line, detail, measure, picked, readAt, columnName, onPick }: Props) {
  const { trials, varied, choice, selection } = detail;
  const fields = fieldsOfSearch(line);
  const rows = useMemo(
    () =>
      trials.toSorted(
        (a, b) => b.round - a.round || compareKnown(a.value, b.value, measure.better === 'lower'),
      ),
    [trials, measure],
  );
  const hasLearned = trials.some(({ development }) => development !== undefined);
  const asGood = new Set(choice?.asGood);
  const columns: (VirtualColumn & { cell: (trial: TrialShown) => string })[] = [
    ...varied.map((name, i) => ({
      key: name,
      head: labelOf(fields, name),
      width: Math.max(90, 8 * labelOf(fields, name).length + 16),
      figures: true,
      cell: ({ values }: TrialShown) => valueText(fields, name, values[i]),
    })),
    ...(selection?.sets
      ? [
          {
            key: 'which',
            head: 'which',
            width: 320,
            cell: ({ number }: TrialShown) => namesText(selection, number, columnName),
          },
        ]
      : []),
    {
      key: 'value',
      head: measure.name,
      width: 8 * measure.name.length + 60,
      figures: true,
      cell: ({ value, round }) =>
        value === undefined
          ? round < 0 && line.state !== 'done'
            ? 'not yet'
            : '–'
          : showTried(measure, value),
    },
    {
      key: 'error',
      head: 'standard error',
      width: 116,
      figures: true,
      cell: ({ error }) => showTried(measure, error),
    },
    {
      key: 'said',
      head: 'remark',
      width: 190,
      cell: ({ number, problem, round }) =>
        problem ??
        (number === choice?.best
          ? 'the best'
          : number === choice?.simplest
            ? 'the simplest as good'
            : asGood.has(number)
              ? 'within one standard error'
              : round >= 0 && round < line.rounds - 1
                ? `left behind in round ${round + 1}`
                : round < 0 && line.state === 'done'
                  ? 'left behind in an earlier round'
                  : ''),
    },
    ...(hasLearned
      ? [
          {
            key: 'development',
            head: 'in those learned from',
            width: 160,
            figures: true,
            cell: ({ development }: TrialShown) => showTried(measure, development),
          },
        ]
      : []),
  ];
  return (
    <div className={styles.trials} style={{ height: Math.min(12, rows.length + 1) * 28 + 20 }}>
      <VirtualTable
        label={`All that ${line.name} compares, the best first`}
        rowCount={rows.length}
        columns={columns}
        cacheKey={['trials', line.id, measure.id, String(readAt), String(rows.length)]}
        fetchRows={(from, count) => Promise.resolve(rows.slice(from, from + count))}
        cell={(trial, column) => columns[column].cell(trial)}
        rowClass={({ number }) => (number === picked ? styles.picked : undefined)}
        onRow={({ number }) => onPick(number)}
      />
    </div>
  );
}
