import { and, eq } from 'drizzle-orm';
import { caseRule, defaultDesign, findOutcome } from '@rook-scale/core/design';
import { casesOf } from '@rook-scale/core/outcome';
import type { Measured, OutcomeKnown } from '@rook-scale/core/survey';
import { isAboutRows, canPredict, type Dictionary, type Table } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import type { DesignState } from '../../contract/designs.ts';
import type { SurveyRequest, SurveyResults } from '../../contract/surveys.ts';
import { clustersAmong, clustersIn } from '../candidates/index.ts';
import { developmentCohort, loadTable } from '../cohorts/index.ts';
import { db, tables } from '../ground/database/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { announce } from '../jobs/index.ts';
import { columnsAtHand, type MeasureColumns } from './columns-at-hand.ts';
import { partName } from './request.ts';
import { rowsAtHand } from './rows-at-hand.ts';
import { surveyKey } from './view.ts';

/** What there is to work out; typed arrays are in shared memory. */
export type SurveyTask =
  | { part: 'findings'; table: Table; outcome?: OutcomeKnown }
  | { part: 'columns'; columns: Measured[]; rows: Int32Array }
  | {
      part: 'relations';
      columns: Measured[];
      rows: Int32Array;
      against: Measured;
      event?: string;
      /** The cluster of each of the rows, where some are of one patient or group. */
      clusters?: Int32Array;
    }
  | {
      part: 'associations';
      columns: Measured[];
      rows: Int32Array;
      ranked: boolean;
      predictors: string[];
      /** Columns beyond the limit. */
      leftOut: number;
    }
  | { part: 'patients'; columns: Measured[]; rows: Int32Array }
  | {
      part: 'unusual';
      columns: Measured[];
      rows: Int32Array;
      seed: number;
      /** Of each of the rows, where it is known what a case is. */
      events?: Int8Array;
    };

/** Columns of an association map at most: the pairs grow with their square. */
const mostMapped = 150;

/** What came of it: a result, so far perhaps of a sample, or a sentence why there is none. */
export interface SurveyOutcome {
  result?: SurveyResults[keyof SurveyResults] | null;
  sampled?: number;
  problem?: string;
}

/** The worker's part: a function that gets ready what to work out, and one that keeps what came of it. */
export async function surveyWork(studyId: string, request: SurveyRequest, measure: MeasureColumns) {
  const [cohort, design] = await Promise.all([developmentCohort(studyId), currentDesign(studyId)]);
  if (!cohort) return undefined;
  const key = surveyKey(cohort, design, request);
  const { surveyPart } = tables;
  const part = partName(request);
  const [kept] = await db()
    .select({ key: surveyPart.key, sampled: surveyPart.sampled })
    .from(surveyPart)
    .where(and(eq(surveyPart.studyId, studyId), eq(surveyPart.part, part)));
  // Asked for twice, the second time while the first was under way.
  if (kept?.key === key && kept.sampled === null) return undefined;
  const keep = async (outcome: SurveyOutcome) => {
    const { result = null, sampled = null, problem = null } = outcome;
    const values = { studyId, part, key, result, sampled, problem, at: new Date() };
    await db()
      .insert(surveyPart)
      .values(values)
      .onConflictDoUpdate({ target: [surveyPart.studyId, surveyPart.part], set: values });
    await announce(studyId);
  };
  const cells = cohort.rowCount * cohort.dictionary.length;
  return { cells, makeTask: () => makeTask(request, cohort, design, measure), keep };
}

async function makeTask(
  request: SurveyRequest,
  cohort: CohortInfo,
  design: DesignState | undefined,
  measure: MeasureColumns,
): Promise<SurveyTask> {
  const look = 'look' in request ? request.look : undefined;
  const rows = await rowsAtHand(cohort, design, look);
  if (request.part === 'findings') {
    const table = await loadTable(cohort);
    return { part: 'findings', table, outcome: outcomeKnown(table, rows, design) };
  }
  const patients = (look === undefined && design?.divisionId) || 'all';
  const all = await columnsAtHand(cohort, rows, patients, measure);
  const { dictionary } = cohort;
  const related = all.filter((_, i) => canRelate(dictionary[i]));
  const predictors = predictorsOf(dictionary, design);
  switch (request.part) {
    case 'columns':
      return { part: 'columns', columns: all, rows };
    case 'relations': {
      const against = all.find(({ name }) => name === request.against);
      if (!against) throw new Error(`There is no column ${request.against} any more.`);
      const columns = related.filter(({ name }) => name !== request.against);
      const choices = design?.choices;
      const event =
        request.against === choices?.outcome && choices.kind === 'event'
          ? choices.event
          : undefined;
      const clusters = await clustersOfRows(cohort, design, rows);
      return { part: 'relations', columns, rows, against, event, clusters };
    }
    case 'associations': {
      const columns = mostWanted(related, new Set(predictors));
      const leftOut = related.length - columns.length;
      const ranked = request.ranked === 'yes';
      return { part: 'associations', columns, rows, ranked, predictors, leftOut };
    }
    case 'patients': {
      const chosen = new Set(predictors);
      return { part: 'patients', columns: all.filter(({ name }) => chosen.has(name)), rows };
    }
    case 'unusual': {
      const chosen = new Set(predictors);
      return {
        part: 'unusual',
        columns: all.filter(({ name }) => chosen.has(name)),
        rows,
        seed: design?.choices.seed ?? 1,
        events: await eventsOf(cohort, rows, design),
      };
    }
  }
}

/** Which of these rows belong together: of one patient, or of one group by which the design splits. */
async function clustersOfRows(
  cohort: CohortInfo,
  design: DesignState | undefined,
  rows: Int32Array,
): Promise<Int32Array | undefined> {
  const codes = await clustersIn(cohort, design?.choices ?? defaultDesign);
  return codes && clustersAmong(codes, rows);
}

/** So many that they can be mapped, predictors first: their pairs are what is decided on. */
function mostWanted(columns: Measured[], predictors: Set<string>): Measured[] {
  const wanted = [...columns]
    .sort((a, b) => Number(predictors.has(b.name)) - Number(predictors.has(a.name)))
    .slice(0, mostMapped);
  return columns.filter((column) => wanted.includes(column));
}

/** Which columns can be set against others: not text, not the identifier. */
function canRelate({ kind, role }: Dictionary[number]): boolean {
  return kind !== 'text' && !isAboutRows({ role });
}

function outcomeKnown(
  table: Table,
  rows: Int32Array,
  design: DesignState | undefined,
): OutcomeKnown | undefined {
  if (!design?.divisionId) return undefined;
  const { choices } = design;
  const events = casesOf(findOutcome(table, choices), caseRule(choices));
  return { name: choices.outcome, events, rows };
}

/** Which of these patients are cases; undefined before there is a split. */
async function eventsOf(
  cohort: CohortInfo,
  rows: Int32Array,
  design: DesignState | undefined,
): Promise<Int8Array | undefined> {
  if (!design?.divisionId) return undefined;
  const table = await loadTable(cohort, [design.choices.outcome]);
  const known = outcomeKnown(table, rows, design)!.events;
  return Int8Array.from(rows, (row) => known[row]);
}

/** The predictors of the design, or before there are any what could be one. */
function predictorsOf(dictionary: Dictionary, design: DesignState | undefined): string[] {
  const chosen = design?.choices.predictors ?? [];
  if (chosen.length > 0) return chosen;
  return dictionary
    .filter(({ kind, role }) => canPredict(kind) && role === 'predictor')
    .map(({ name }) => name);
}
