import { useCallback, useMemo } from 'react';
import { isRule, learnsFromPredictors } from '@rook-scale/core/families';
import { giveLevels, levelRule } from '@rook-scale/core/measures';
import { readScore, type OutcomeKind } from '@rook-scale/core/outcome';
import { display } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import {
  screeningRoutes,
  type ScreenedRow,
  type ScreeningView,
} from '../../contract/screenings.ts';
import { setAddress } from '../../browser/address.ts';
import { ask } from '../../browser/api.ts';
import { listWords, plural, showInUnit, showRisk, showScore } from '../../browser/format.ts';
import { showFixed } from '../../browser/numbers.ts';
import {
  CellText,
  Name,
  Notice,
  VirtualTable,
  type VirtualColumn,
} from '../../components/index.ts';
import { unfamiliarText } from './TooLittleDialog.tsx';
import { StrongestReasons } from './StrongestReasons.tsx';
import styles from './CallInList.module.css';

interface Props {
  view: ScreeningView;
  cohort: CohortInfo;
  cutoff: number;
  /** How many are called in at the cutoff. */
  called: number;
}

/** Everyone, whoever is most taken for a case first, with the line where the cutoff falls. */
export function CallInList({ view, cohort, cutoff, called }: Props) {
  const order = useMemo(() => columnOrder(cohort, view), [cohort, view]);
  const said = useMemo(() => saidOf(view), [view]);
  const { unusual } = view;
  const withReasons = givesReasons(view);
  /** Where the list's own columns begin. */
  const first = 2 + said.length + (unusual ? 1 : 0);
  /** Behind whom they are of. */
  const reasonsAt = withReasons ? first + (hasIdentifier(cohort) ? 1 : 0) : Infinity;
  const columns = useMemo(
    () => listColumns(cohort, order, said, unusual !== undefined, reasonsAt),
    [cohort, order, said, unusual, reasonsAt],
  );
  const fetchRows = useCallback(
    async (from: number, count: number) =>
      (await ask(screeningRoutes.rows, { screening: view.id }, { query: { from, count } })).rows,
    [view.id],
  );
  return (
    <>
      <ForAll view={view} />
      <VirtualTable
        label={`Call-in list, ${cohort.name}`}
        rowCount={view.rowCount}
        columns={columns}
        fetchRows={fetchRows}
        onRow={(row) => setAddress({ view: 'patient', list: cohort.id, row: String(row.row) })}
        cacheKey={[view.id, view.createdAt]}
        rowClass={(_, index) =>
          index === called - 1 ? styles.last : index >= called ? styles.alone : undefined
        }
        cell={(row, i) => {
          if (i === 0) return row.rank;
          if (i === 1)
            return row.risk === null
              ? 'not scored'
              : row.risk >= cutoff
                ? 'call in'
                : 'leave alone';
          if (i < 2 + said.length) {
            if (row.risk === null) return '–';
            const shown = said[i - 2].of(row);
            return i === 2 ? (
              <Score row={row} shown={shown} forAll={view.unfamiliarForAll} />
            ) : (
              shown
            );
          }
          if (unusual && i === 2 + said.length) return <Unusual row={row} from={unusual.from} />;
          if (i === reasonsAt) return <StrongestReasons view={view} row={row} />;
          const place = order[i - first - (i > reasonsAt ? 1 : 0)];
          return <CellText entry={cohort.dictionary[place]} cell={row.cells[place]} />;
        }}
      />
    </>
  );
}

/** Whether the candidate, as it is now, can give reasons for the scores of the list. */
export const givesReasons = ({ family, outOfDate }: ScreeningView): boolean =>
  learnsFromPredictors(family) && (outOfDate === null || outOfDate === 'version');

/** What holds for every patient is said once. */
function ForAll({ view }: { view: ScreeningView }) {
  const { unfamiliarForAll: names, predictors, rowCount, unscored } = view;
  if (names.length === 0) return null;
  const reasons = names.map((name) => {
    const predictor = predictors.find((one) => one.name === name);
    return predictor?.unfamiliar.length
      ? listWords(
          predictor.unfamiliar.map((what) => unfamiliarText(predictor, what)),
          'and',
        )
      : name;
  });
  return (
    <Notice kind="plain">
      Every risk in this list rests on too little: {listWords(reasons, 'and')} in all{' '}
      {plural(rowCount - unscored, 'scored patient')}, as in hardly any development patient. The
      list marks only what differs between patients; the file marks everything.
    </Notice>
  );
}

/**
 * The score, marked where it rests on what hardly any development patient had.
 *
 * @param forAll predictors of which that holds for everybody, which is said above the list
 */
function Score({ row, shown, forAll }: { row: ScreenedRow; shown: string; forAll: string[] }) {
  const own = row.unfamiliar.filter((name) => !forAll.includes(name));
  if (own.length === 0) return shown;
  const why = `Rests on what hardly any development patient had: ${own.join(', ')}`;
  return (
    <span className={styles.strange} title={why}>
      <span aria-hidden="true">? </span>
      {shown}
      <span className="hidden"> {why}</span>
    </span>
  );
}

/** How unlike the development patients, marked where hardly any of them was more so. */
function Unusual({ row: { unusual = 0 }, from }: { row: ScreenedRow; from: number }) {
  if (unusual <= from) return showFixed(unusual, 2);
  const why = 'More unusual, all predictors together, than 99 of 100 development patients';
  return (
    <span className={styles.strange} title={why}>
      <span aria-hidden="true">≠ </span>
      {showFixed(unusual, 2)}
      <span className="hidden"> {why}</span>
    </span>
  );
}

/** A column of what is predicted. */
interface Said {
  key: string;
  head: string;
  width: number;
  of: (row: ScreenedRow) => string;
}

/** What the list says of a patient: the risk; the likeliest level and every share; the number and its interval. */
function saidOf({ outcome, levelCosts, family }: ScreeningView): Said[] {
  const score = (head: string, width = 88): Said => ({
    key: 'risk',
    head,
    width,
    of: (row) => showScore(row.risk!, outcome),
  });
  const kinds: { [K in OutcomeKind]: () => Said[] } = {
    event: () => [score(isRule(family) ? 'Rule' : 'Risk')],
    levels: () => [
      score('Case share', 100),
      {
        key: 'likeliest',
        head: levelCosts ? 'Cheapest' : 'Likeliest',
        width: 110,
        of: ({ shares }) => (shares ? givenLevel(outcome.levels ?? [], shares, levelCosts) : '–'),
      },
      ...(outcome.levels ?? []).map((level, k) => ({
        key: `share ${level}`,
        head: level,
        width: 92,
        of: ({ shares = [] }: ScreenedRow) => showRisk(shares[k]),
      })),
    ],
    number: () => [
      {
        ...score(outcome.unit ? `Predicted, ${outcome.unit}` : 'Predicted', 150),
        of: (row) => showInUnit(readScore(row.risk!, outcome.cases), ''),
      },
      {
        key: 'interval',
        head: '95% interval',
        width: 150,
        of: ({ interval }) =>
          interval ? interval.map((end) => showInUnit(end, '')).join(' – ') : '–',
      },
    ],
  };
  return kinds[outcome.choice.kind]();
}

/** The likeliest level, or the cheapest where errors cost differently. */
function givenLevel(levels: string[], shares: number[], costs: number[][] | undefined): string {
  const predictions = { kind: 'levels' as const, levels, shares: Float64Array.from(shares) };
  return levels[giveLevels(predictions, levelRule(costs))[0]];
}

/** Identifier first, then what the model uses, then the rest. */
function columnOrder(cohort: CohortInfo, view: ScreeningView): number[] {
  const used = new Set(view.predictors.map((predictor) => predictor.name));
  const weight = (i: number) => {
    const entry = cohort.dictionary[i];
    if (entry.role === 'identifier') return 0;
    return used.has(entry.name) ? 1 : 2;
  };
  return cohort.dictionary.map((_, i) => i).sort((a, b) => weight(a) - weight(b) || a - b);
}

function listColumns(
  cohort: CohortInfo,
  order: number[],
  said: Said[],
  unusual: boolean,
  reasonsAt: number,
): VirtualColumn[] {
  const columns = [
    { key: 'rank', head: 'Rank', width: 60, figures: true },
    { key: 'call', head: 'Call', width: 92 },
    ...said.map(({ key, head, width }) => ({
      key,
      head: <Name text={head} />,
      width,
      figures: key !== 'likeliest',
    })),
    ...(unusual ? [{ key: 'unusual', head: 'Unusual', width: 84, figures: true }] : []),
    ...order.map((place) => {
      const entry = cohort.dictionary[place];
      const head = entry.unit ? `${display(entry)}, ${entry.unit}` : display(entry);
      return {
        key: entry.name,
        head: <Name text={head} />,
        width: entry.kind === 'number' || entry.kind === 'yes/no' ? 118 : 132,
        figures: entry.kind === 'number',
      };
    }),
  ];
  const reasons = { key: 'reasons', head: 'Strongest reasons', width: 300 };
  return reasonsAt < Infinity ? columns.toSpliced(reasonsAt, 0, reasons) : columns;
}

const hasIdentifier = ({ dictionary }: CohortInfo) =>
  dictionary.some(({ role }) => role === 'identifier');
