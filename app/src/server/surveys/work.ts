import { findEvents } from '@rook-scale/core/design';
import type { OutcomeKnown } from '@rook-scale/core/survey';
import { canPredict, type Table } from '@rook-scale/core/table';
import { developmentCohort } from '../cohorts/index.ts';
import { db, tables } from '../database/index.ts';
import { currentDesign, type DesignState } from '../design-state.ts';
import { announce } from '../jobs/index.ts';
import { cachedTable } from '../table-cache.ts';
import { partName, type SurveyRequest } from './request.ts';
import type { SurveyResults } from './results.ts';
import { rowsAtHand } from './rows-at-hand.ts';
import { surveyKey } from './view.ts';

/** What a thread needs for one part; typed arrays are in shared memory. */
export type SurveyTask =
  | { part: 'findings'; table: Table; outcome?: OutcomeKnown }
  | { part: 'columns'; table: Table; rows: Int32Array; only?: string[] }
  | {
      part: 'relations';
      table: Table;
      rows: Int32Array;
      against: string;
      event?: string;
      only?: string[];
    }
  | { part: 'associations'; table: Table; rows: Int32Array; ranked: boolean; predictors: string[] }
  | { part: 'patients'; table: Table; rows: Int32Array; predictors: string[] };

/** The worker's part: what to work out, and a function that keeps what came of it. */
export async function surveyWork(studyId: string, request: SurveyRequest) {
  const [cohort, design] = await Promise.all([developmentCohort(studyId), currentDesign(studyId)]);
  if (!cohort) return undefined;
  const key = surveyKey(cohort, design, request);
  const rows = await rowsAtHand(cohort, design, 'look' in request ? request.look : undefined);
  const task = makeTask(request, await cachedTable(cohort), rows, design);
  const keep = async (outcome: { result: SurveyResults[keyof SurveyResults] | null } | Error) => {
    const result = outcome instanceof Error ? null : outcome.result;
    const problem = outcome instanceof Error ? outcome.message : null;
    const values = { studyId, part: partName(request), key, result, problem, at: new Date() };
    const { surveyPart } = tables;
    await db()
      .insert(surveyPart)
      .values(values)
      .onConflictDoUpdate({ target: [surveyPart.studyId, surveyPart.part], set: values });
    await announce(studyId);
  };
  return { task, keep };
}

function makeTask(
  request: SurveyRequest,
  table: Table,
  rows: Int32Array,
  design: DesignState | undefined,
): SurveyTask {
  const choices = design?.choices;
  switch (request.part) {
    case 'findings':
      return { part: 'findings', table, outcome: outcomeKnown(table, rows, design) };
    case 'columns':
      return { part: 'columns', table, rows };
    case 'relations':
      return {
        part: 'relations',
        table,
        rows,
        against: request.against,
        event: request.against === choices?.outcome ? choices.event : undefined,
      };
    case 'associations':
      return {
        part: 'associations',
        table,
        rows,
        ranked: request.ranked === 'yes',
        predictors: predictorsOf(table, design),
      };
    case 'patients':
      return { part: 'patients', table, rows, predictors: predictorsOf(table, design) };
  }
}

function outcomeKnown(
  table: Table,
  rows: Int32Array,
  design: DesignState | undefined,
): OutcomeKnown | undefined {
  if (!design?.divisionId) return undefined;
  const { outcome, event } = design.choices;
  return { name: outcome, events: findEvents(table, { outcome, event }), rows };
}

/** The predictors of the design, or before there are any what could be one. */
function predictorsOf(table: Table, design: DesignState | undefined): string[] {
  const chosen = design?.choices.predictors ?? [];
  if (chosen.length > 0) return chosen;
  return table.dictionary
    .filter(({ kind, role }) => canPredict(kind) && role === 'predictor')
    .map(({ name }) => name);
}
