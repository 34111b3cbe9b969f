import {
  adjust,
  associationMap,
  describeColumn,
  findGaps,
  inflationFactors,
  mapPatients,
  outcomeOf,
  relateAll,
  surveyTable,
  type Measured,
} from '@rook-scale/core/survey';
import { pickRows, type Table } from '@rook-scale/core/table';
import type {
  ColumnsSurveyed,
  RelationsSurveyed,
  SurveyResults,
  SurveyTask,
} from '../server/surveys/index.ts';

/** Columns of an association map at most: the pairs grow with their square. */
const mostMapped = 150;

export type SurveyResult = SurveyResults[keyof SurveyResults];

/** Works out one part of the survey, or the share of it that the task is limited to. */
export function carryOutSurvey(task: SurveyTask): SurveyResult {
  const { table } = task;
  switch (task.part) {
    case 'findings':
      return surveyTable(table, task.outcome);
    case 'columns':
      return surveyColumns(table, task.rows, task.only);
    case 'relations':
      return relations(task);
    case 'associations': {
      const chosen = new Set(task.predictors);
      const usable = table.dictionary.filter(canRelate);
      // Predictors first: their pairs are what the analyst decides on.
      const kept = new Set(
        [...usable]
          .sort((a, b) => Number(chosen.has(b.name)) - Number(chosen.has(a.name)))
          .slice(0, mostMapped)
          .map(({ name }) => name),
      );
      const measured = measuredColumns(table, task.rows, ({ name }) => kept.has(name));
      return {
        map: associationMap(measured, task.ranked),
        inflation: inflationFactors(measured.filter(({ name }) => chosen.has(name))),
        leftOut: usable.length - kept.size,
      };
    }
    case 'patients': {
      const chosen = new Set(task.predictors);
      const measured = measuredColumns(table, task.rows, ({ name }) => chosen.has(name));
      return mapPatients(measured, task.rows) ?? null;
    }
  }
}

/** The task cut into as many as there are threads, where its columns do not need each other. */
export function shareOut(task: SurveyTask, threads: number): SurveyTask[] {
  if (task.part !== 'columns' && task.part !== 'relations') return [task];
  const names = task.table.dictionary.map(({ name }) => name);
  if (names.length * task.rows.length < 200_000) return [task];
  // Dealt out like cards: columns of a kind often stand together.
  return Array.from({ length: threads }, (_, thread) => ({
    ...task,
    only: names.filter((_name, i) => i % threads === thread),
  }));
}

/** What the shares of a task come to together. */
export function putTogether(task: SurveyTask, results: SurveyResult[]): SurveyResult {
  const [first, ...others] = results;
  if (others.length === 0) return first;
  const order = new Map(task.table.dictionary.map(({ name }, i) => [name, i]));
  const inOrder = <T extends { name: string }>(list: T[]) =>
    list.sort((a, b) => order.get(a.name)! - order.get(b.name)!);
  if (task.part === 'relations') {
    const parts = results as RelationsSurveyed[];
    const { shape } = parts[0];
    return { shape, relations: adjust(inOrder(parts.flatMap(({ relations: found }) => found))) };
  }
  const parts = results as ColumnsSurveyed[];
  return { ...parts[0], columns: inOrder(parts.flatMap(({ columns }) => columns)) };
}

function surveyColumns(table: Table, rows: Int32Array, only?: string[]): ColumnsSurveyed {
  const columns = table.dictionary.flatMap(({ name }, i) =>
    !only || only.includes(name) ? [describeColumn(name, pickRows(table.columns[i], rows))] : [],
  );
  // The gaps concern all columns together: the first thread finds them.
  const first = !only || only.includes(table.dictionary[0].name);
  const gaps = first
    ? findGaps(table.columns, rows)
    : { patients: 0, perColumn: [], perPatient: [], patterns: [], patternCount: 0 };
  return { patients: rows.length, columns, gaps };
}

function relations({
  table,
  rows,
  against,
  event,
  only,
}: Extract<SurveyTask, { part: 'relations' }>): RelationsSurveyed {
  const place = table.dictionary.findIndex(({ name }) => name === against);
  const outcome =
    place >= 0
      ? outcomeOf(pickRows(table.columns[place], rows), table.dictionary[place].kind, event)
      : undefined;
  if (!outcome)
    throw new Error('The columns cannot be set against this one: it is text, a date or one level.');
  const columns = measuredColumns(
    table,
    rows,
    (entry) => canRelate(entry) && entry.name !== against && (!only || only.includes(entry.name)),
  );
  return { shape: outcome.shape, relations: relateAll(columns, outcome) };
}

/** The columns of a task as the core takes them, with the rows at hand only. */
function measuredColumns(
  table: Table,
  rows: Int32Array,
  wanted: (entry: Table['dictionary'][number]) => boolean,
): Measured[] {
  return table.dictionary.flatMap((entry, i) =>
    wanted(entry)
      ? [{ name: entry.name, kind: entry.kind, column: pickRows(table.columns[i], rows) }]
      : [],
  );
}

/** Which columns can be set against others: not text, not the identifier. */
function canRelate({ kind, role }: Table['dictionary'][number]): boolean {
  return kind !== 'text' && role !== 'identifier';
}
