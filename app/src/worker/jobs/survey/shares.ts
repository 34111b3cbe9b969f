import {
  adjust,
  associationRows,
  describeColumn,
  drawnAtMost,
  everyFew,
  findGaps,
  findUnusual,
  inflationFactors,
  mapOfRows,
  mapPatients,
  measured,
  outcomeOf,
  relateAll,
  surveyTable,
  type Measured,
} from '@rook-scale/core/survey';
import { clustersOf } from '@rook-scale/core/measures';
import { pickRows } from '@rook-scale/core/table';
import type {
  AssociationsSurveyed,
  ColumnsSurveyed,
  RelationsSurveyed,
  SurveyResults,
} from '../../../contract/surveys.ts';
import type { SurveyTask } from '../../../server/surveys/index.ts';

export type SurveyResult = SurveyResults[keyof SurveyResults];

/** What one thread does of a task: all of it, or one of the shares that do not need each other. */
export type SurveyShare =
  | Exclude<SurveyTask, { part: 'columns' | 'associations' }>
  | { part: 'describe'; columns: Measured[] }
  | { part: 'gaps'; columns: Measured[]; patients: number }
  | { part: 'associate'; columns: Measured[]; ranked: boolean; rows: number[] }
  | { part: 'inflation'; columns: Measured[] };

/** Cells below which a task is not worth sharing out. */
const worthSharing = 200_000;

/** The task cut up for so many threads. */
export function shareOut(task: SurveyTask, threads: number): SurveyShare[] {
  switch (task.part) {
    case 'findings':
    case 'patients':
    case 'unusual':
      return [task];
    case 'columns':
      return [
        { part: 'gaps', columns: task.columns, patients: task.rows.length },
        ...dealt(task.columns, task.rows.length, threads).map((columns): SurveyShare => ({
          part: 'describe',
          columns,
        })),
      ];
    case 'relations':
      return dealt(task.columns, task.rows.length, threads).map((columns) => ({
        ...task,
        columns,
      }));
    case 'associations': {
      const { columns, ranked } = task;
      const chosen = new Set(task.predictors);
      const predictors = columns.filter(({ name }) => chosen.has(name));
      return [
        { part: 'inflation', columns: predictors },
        ...dealt([...columns.keys()], columns.length * task.rows.length, threads).map(
          (rows): SurveyShare => ({ part: 'associate', columns, ranked, rows }),
        ),
      ];
    }
  }
}

/** Patients up to which every pair of columns is counted at once. */
const pairsAtOnce = 60_000;

/**
 * The same task for some of the patients, evenly taken, where all of them would keep the page
 * waiting; undefined where they do not. Two columns with each other in 20,000 patients are known to
 * within 0.014 (two standard errors), good enough to look at until all are counted.
 */
export function thinned(
  task: SurveyTask,
): Extract<SurveyTask, { part: 'associations' | 'patients' }> | undefined {
  if (task.part !== 'associations' && task.part !== 'patients') return undefined;
  if (task.rows.length <= pairsAtOnce) return undefined;
  const places = everyFew(task.rows.length, drawnAtMost);
  return {
    ...task,
    rows: Int32Array.from(places, (place) => task.rows[place]),
    columns: task.columns.map(({ name, kind, column }) =>
      measured(name, kind, pickRows(column, places)),
    ),
  };
}

/** Works out one share. */
export function carryOutShare(share: SurveyShare): unknown {
  switch (share.part) {
    case 'findings':
      return surveyTable(share.table, share.outcome);
    case 'describe':
      return share.columns.map(describeColumn);
    case 'gaps':
      return findGaps(share.columns, share.patients);
    case 'relations':
      return relations(share);
    case 'associate':
      return associationRows(share.columns, share.ranked, share.rows);
    case 'inflation':
      return inflationFactors(share.columns);
    case 'patients':
      return mapPatients(share.columns, share.rows) ?? null;
    case 'unusual':
      return findUnusual(share.columns, share.rows, share.seed, share.events) ?? null;
  }
}

/** What the results of the shares, in their order, come to together. */
export function putTogether(task: SurveyTask, results: unknown[]): SurveyResult {
  switch (task.part) {
    case 'findings':
    case 'patients':
    case 'unusual':
      return results[0] as SurveyResult;
    case 'columns': {
      const [gaps, ...parts] = results as [
        ColumnsSurveyed['gaps'],
        ...ColumnsSurveyed['columns'][],
      ];
      return { patients: task.rows.length, columns: inOrder(task.columns, parts.flat()), gaps };
    }
    case 'relations': {
      const parts = results as RelationsSurveyed[];
      const found = parts.flatMap(({ relations: some }) => some);
      return { ...parts[0], relations: adjust(inOrder(task.columns, found)) };
    }
    case 'associations': {
      const [inflation, ...parts] = results as [
        AssociationsSurveyed['inflation'],
        ...AssociationsSurveyed['map']['cells'][],
      ];
      const places = dealt(
        [...task.columns.keys()],
        task.columns.length * task.rows.length,
        parts.length,
      );
      const cells: AssociationsSurveyed['map']['cells'] = [];
      parts.forEach((rows, s) => rows.forEach((row, i) => (cells[places[s][i]] = row)));
      return { map: mapOfRows(task.columns, cells), inflation, leftOut: task.leftOut };
    }
  }
}

/**
 * Dealt out like cards, there and back: columns of a kind often stand together, and the later a
 * column stands the more others it is set against.
 */
function dealt<T>(cards: T[], weight: number, players: number): T[][] {
  const hands = Array.from(
    { length: cards.length * weight < worthSharing ? 1 : players },
    (): T[] => [],
  );
  cards.forEach((card, i) => {
    const round = Math.floor(i / hands.length);
    const place = i % hands.length;
    hands[round % 2 === 0 ? place : hands.length - 1 - place].push(card);
  });
  return hands.filter((hand, h) => h === 0 || hand.length > 0);
}

function inOrder<T extends { name: string }>(columns: Measured[], list: T[]): T[] {
  const order = new Map(columns.map(({ name }, i) => [name, i]));
  return list.sort((a, b) => order.get(a.name)! - order.get(b.name)!);
}

function relations({
  columns,
  against,
  event,
  clusters: codes,
}: Extract<SurveyShare, { part: 'relations' }>): RelationsSurveyed {
  const outcome = outcomeOf(against.column, against.kind, event);
  if (!outcome)
    throw new Error('The columns cannot be set against this one: it is text, a date or one level.');
  const clusters = codes && clustersOf(codes);
  return {
    shape: outcome.shape,
    ...(clusters && { dependent: { rows: clusters.codes.length, clusters: clusters.count } }),
    relations: relateAll(columns, outcome, clusters),
  };
}
