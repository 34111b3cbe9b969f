import { useMemo } from 'react';
import { wilsonInterval, type Interval } from '@rook-scale/core/measures';
import { crossTable, chiSquareTest } from '@rook-scale/core/survey';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import {
  lowerFirst,
  plural,
  showCount,
  showInterval,
  showP,
  showPercent,
} from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { DataTable, IntervalStrip } from '../../../components/index.ts';
import { useSurvey } from '../context.ts';
import { marksOf } from '../marks.ts';
import styles from '../Survey.module.css';
import { useColumns } from '../use-columns.ts';
import { Waiting } from '../Waiting.tsx';
import own from './OneColumn.module.css';

interface LevelLine {
  level: string;
  count: number;
  share: number;
  cases: number;
  caseShare: number;
  interval: Interval | undefined;
  place: number;
}

/** A column with levels: how many patients each has, and the share of the event in it. */
export function OneCategory({
  entry,
  by,
}: {
  entry: DictionaryEntry;
  by: DictionaryEntry | undefined;
}) {
  const { design } = useSurvey();
  const { columns, problem } = useColumns(by ? [entry.name, by.name] : [entry.name]);
  const [column, groups] = columns ?? [];
  const marks = by ? marksOf(by, design) : [];
  // Of the column beside it, the level that is looked for: the event, or else the last one.
  const found = marks.findIndex(({ filled }) => filled);
  const wanted = marks.length === 2 && found >= 0 ? found : marks.length - 1;
  const counted = useMemo(() => {
    if (column?.type !== 'coded') return undefined;
    const second = groups?.type === 'coded' ? groups : undefined;
    const alone = new Array<number>(column.levels.length).fill(0);
    for (const code of column.codes) if (code >= 0) alone[code]++;
    const table =
      second && crossTable(column.codes, column.levels.length, second.codes, second.levels.length);
    return { alone, table, patients: column.codes.length, levels: column.levels };
  }, [column, groups]);
  if (!counted) return <Waiting problem={problem} what={display(entry)} />;
  const known = counted.alone.reduce((sum, count) => sum + count, 0);
  const lines = counted.levels.map((level, place): LevelLine => {
    const row = counted.table?.counts[place] ?? [];
    const total = row.reduce((sum, count) => sum + count, 0);
    const cases = row[wanted] ?? 0;
    return {
      level,
      place,
      count: counted.alone[place],
      share: counted.alone[place] / Math.max(1, known),
      cases,
      caseShare: total > 0 ? cases / total : NaN,
      interval: wilsonInterval(cases, total),
    };
  });
  const test = counted.table && chiSquareTest(counted.table.counts);
  const most = Math.max(0.05, ...lines.map(({ interval }) => interval?.[1] ?? 0));
  const wantedName = by ? `${display(by)}: ${marks[wanted]?.level}` : '';
  return (
    <>
      <dl className={styles.facts}>
        <div>
          <dt>known in</dt>
          <dd>{plural(known, 'patient')}</dd>
        </div>
        <div>
          <dt>not known</dt>
          <dd>{known === counted.patients ? 'in none' : showCount(counted.patients - known)}</dd>
        </div>
        {test && (
          <>
            <div>
              <dt>Cramér’s V</dt>
              <dd>{showFixed(test.cramersV, 2)}</dd>
            </div>
            <div>
              <dt>chi-square</dt>
              <dd>
                {showFixed(test.statistic, 1)} on {test.degreesOfFreedom}, p {showP(test.p)}
              </dd>
            </div>
          </>
        )}
      </dl>
      {test && test.smallestExpected < 5 && (
        <p className={styles.warning}>
          A cell expects only {showFixed(test.smallestExpected, 1)} patients: the p of chi-square is
          rough here.
        </p>
      )}
      <DataTable
        caption={`Levels of ${display(entry)}`}
        rows={lines}
        rowKey={({ level }) => level}
        columns={[
          {
            key: 'level',
            head: 'Level',
            cell: ({ level }) => level,
            sort: ({ place }) => place,
          },
          {
            key: 'count',
            head: 'Patients',
            figures: true,
            cell: ({ count }) => showCount(count),
            sort: ({ count }) => count,
          },
          {
            key: 'share',
            head: 'Share',
            figures: true,
            cell: ({ share }) => showPercent(share),
            sort: ({ share }) => share,
          },
          {
            key: 'bar',
            head: '',
            width: 140,
            cell: ({ share }) => (
              <svg
                className={own.share}
                height="12"
                viewBox="0 0 100 12"
                preserveAspectRatio="none"
              >
                <rect width={100 * share} height="12" fill="var(--none)" />
              </svg>
            ),
          },
          ...(by
            ? [
                {
                  key: 'cases',
                  head: wantedName,
                  figures: true,
                  cell: ({ cases, caseShare }: LevelLine) =>
                    Number.isNaN(caseShare) ? '' : `${showCount(cases)}  ${showPercent(caseShare)}`,
                  sort: ({ caseShare }: LevelLine) => caseShare,
                },
                {
                  key: 'interval',
                  head: '95% interval',
                  figures: true,
                  cell: ({ interval }: LevelLine) => showInterval(interval),
                },
                {
                  key: 'strip',
                  head: `0 to ${showPercent(most)}`,
                  width: 160,
                  cell: ({ caseShare, interval }: LevelLine) =>
                    interval && (
                      <div className={own.strip}>
                        <IntervalStrip value={caseShare} interval={interval} to={most} />
                      </div>
                    ),
                },
              ]
            : []),
        ]}
      />
      {by && (
        <p className={styles.note}>
          The share is of the patients of that level in whom {lowerFirst(display(by))} is known;
          intervals by Wilson.
        </p>
      )}
    </>
  );
}
