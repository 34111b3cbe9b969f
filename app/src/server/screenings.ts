import { and, asc, eq, gte, isNull } from 'drizzle-orm';
import { findEvents } from '@rook-scale/core/design';
import {
  alignToModel,
  scoreRows,
  type AlignedPredictor,
  type Model,
} from '@rook-scale/core/screening';
import { showValue, type Table } from '@rook-scale/core/table';
import {
  candidateCutoff,
  candidateName,
  candidateRow,
  fittedCandidate,
  pack,
  type Predictions,
} from './candidates.ts';
import { cohortInfo, loadTable, type CohortInfo } from './cohorts/index.ts';
import { db, tables } from './database/index.ts';
import { asBytes, asFloats, asIntegers } from './files/index.ts';
import { announce } from './jobs/index.ts';
import { notFound, Problem } from './problem.ts';

/** How a cohort fits the model, before or after it is scored. */
export interface CohortCheck {
  rowCount: number;
  predictors: AlignedPredictor[];
  extraColumns: string[];
}

/** A scored cohort, without its rows. */
export interface ScreeningView extends CohortCheck {
  id: string;
  cohort: { id: string; name: string; fileName: string };
  candidateId: string;
  candidateName: string;
  cutoff: number;
  calledIn: number;
  /** Rows in which the outcome is known, when there are any: their risks and outcomes. */
  known: { patients: number; predictions: Predictions } | null;
  /** The held-out patients of the same fit, once they have been looked at; null before. */
  heldOut: Predictions | null;
  /** Base64 of every row's risk, Float64. */
  risks: string;
  /** The candidate was fitted again after this cohort was scored. */
  outOfDate: boolean;
  createdAt: Date;
}

/** One line of the call-in list. */
export interface ScreenedRow {
  rank: number;
  /** Place in the file, from 0. */
  row: number;
  risk: number;
  /** As in the cohort's dictionary; the identifier first if there is one. */
  cells: string[];
}

/** Meets a cohort with a model and says what is missing, extra, new or out of range. */
export async function checkCohort(
  studyId: string,
  cohortId: string,
  candidateId: string,
): Promise<CohortCheck> {
  const { alignment, table } = await meet(studyId, cohortId, candidateId);
  return {
    rowCount: table.rowCount,
    predictors: alignment.predictors,
    extraColumns: alignment.extra,
  };
}

/** Scores a cohort with a candidate and keeps the result; scoring again replaces it. */
export async function scoreCohort(
  studyId: string,
  cohortId: string,
  candidateId: string,
): Promise<string> {
  const { cohort, model, alignment, table } = await meet(studyId, cohortId, candidateId);
  if (alignment.predictors.every((predictor) => predictor.absent))
    throw new Problem(
      422,
      'nothing-in-common',
      `${cohort.file.name} has none of the model's ${model.predictors.length} predictors, so there is nothing to score. Check that it is the right file; columns are matched by name.`,
    );
  const risks = scoreRows(model, alignment.columns, table.rowCount);
  const events = knownEvents(table, model);
  const values = {
    studyId: cohort.studyId,
    cohortId,
    candidateId,
    risks: asBytes(risks),
    ranking: asBytes(rank(risks)),
    events: events ? asBytes(events) : null,
    predictors: alignment.predictors,
    extraColumns: alignment.extra,
  };
  const [{ id }] = await db()
    .insert(tables.screening)
    .values(values)
    .onConflictDoUpdate({
      target: [tables.screening.cohortId, tables.screening.candidateId],
      set: { ...values, createdAt: new Date() },
    })
    .returning({ id: tables.screening.id });
  await announce(cohort.studyId);
  return id;
}

async function meet(studyId: string, cohortId: string, candidateId: string) {
  const cohort = await cohortInfo(cohortId);
  const candidate = await fittedCandidate(candidateId);
  if (cohort.studyId !== studyId) throw notFound('The cohort');
  if (candidate.studyId !== studyId) throw notFound('The candidate');
  const { model } = candidate;
  const table = await loadTable(cohort);
  return { cohort, model, table, alignment: alignToModel(model, table) };
}

/** Outcomes where the cohort has the model's outcome column; undefined where it has not. */
function knownEvents(table: Table, model: Model): Int8Array | undefined {
  const position = table.dictionary.findIndex((entry) => entry.name === model.outcome.name);
  const column = table.columns[position];
  if (column?.type !== 'coded' || !column.levels.includes(model.outcome.event)) return undefined;
  return findEvents(table, { outcome: model.outcome.name, event: model.outcome.event });
}

/** Row numbers, highest risk first; equal risks in the order of the file. */
function rank(risks: Float64Array): Int32Array {
  return Int32Array.from(risks.keys()).sort((a, b) => risks[b] - risks[a] || a - b);
}

export async function listScreenings(
  studyId: string,
): Promise<{ id: string; cohortId: string; candidateId: string }[]> {
  return db()
    .select({
      id: tables.screening.id,
      cohortId: tables.screening.cohortId,
      candidateId: tables.screening.candidateId,
    })
    .from(tables.screening)
    .innerJoin(tables.cohort, eq(tables.cohort.id, tables.screening.cohortId))
    .where(and(eq(tables.screening.studyId, studyId), isNull(tables.cohort.deletedAt)))
    .orderBy(asc(tables.screening.createdAt));
}

export async function screeningView(id: string): Promise<ScreeningView> {
  const { row, cohort, candidate, cutoff } = await openScreening(id);
  const risks = asFloats(row.risks);
  return {
    id,
    cohort: { id: cohort.id, name: cohort.name, fileName: cohort.file.name },
    candidateId: candidate.id,
    candidateName: candidateName(candidate),
    cutoff,
    calledIn: risks.reduce((count, risk) => count + Number(risk >= cutoff), 0),
    known: knownPredictions(risks, row.events),
    heldOut: await seenHeldOut(candidate),
    risks: row.risks.toString('base64'),
    rowCount: cohort.rowCount,
    predictors: row.predictors,
    extraColumns: row.extraColumns,
    outOfDate: candidate.fittedAt !== null && candidate.fittedAt > row.createdAt,
    createdAt: row.createdAt,
  };
}

function knownPredictions(risks: Float64Array, events: Buffer | null): ScreeningView['known'] {
  if (!events) return null;
  const outcome = new Int8Array(Uint8Array.from(events).buffer);
  const rows = Array.from(outcome.keys()).filter((row) => outcome[row] >= 0);
  if (rows.length === 0) return null;
  return {
    patients: rows.length,
    predictions: pack(
      asBytes(Float64Array.from(rows, (row) => risks[row])),
      asBytes(Uint8Array.from(rows, (row) => outcome[row])),
    ),
  };
}

/** What a look has already shown of this fit; showing it again beside another cohort is no new judgement. */
async function seenHeldOut(
  candidate: Awaited<ReturnType<typeof candidateRow>>,
): Promise<Predictions | null> {
  const { heldOutRisks, heldOutEvents, fittedAt } = candidate;
  if (!heldOutRisks || !heldOutEvents || !fittedAt) return null;
  const [look] = await db()
    .select({ id: tables.look.id })
    .from(tables.look)
    .where(and(eq(tables.look.candidateId, candidate.id), gte(tables.look.at, fittedAt)))
    .limit(1);
  return look ? pack(heldOutRisks, heldOutEvents) : null;
}

async function openScreening(id: string) {
  const [row] = await db().select().from(tables.screening).where(eq(tables.screening.id, id));
  if (!row) throw notFound('The screening');
  const candidate = await candidateRow(row.candidateId);
  return {
    row,
    candidate,
    cohort: await cohortInfo(row.cohortId),
    cutoff: await candidateCutoff(candidate),
  };
}

/** Lines `from` … of the call-in list, highest risk first. */
export async function screenedRows(
  id: string,
  from: number,
  count: number,
): Promise<ScreenedRow[]> {
  const { row, cohort } = await openScreening(id);
  const ranking = asIntegers(row.ranking);
  const risks = asFloats(row.risks);
  const places = Array.from(ranking.slice(from, from + count));
  const table = await loadTable(cohort);
  return places.map((place, i) => ({
    rank: from + i + 1,
    row: place,
    risk: risks[place],
    cells: table.columns.map((column, j) =>
      showValue(column, place, table.dictionary[j].kind === 'date'),
    ),
  }));
}

/** The list as CSV (RFC 4180), highest risk first: identifier or row number, risk, call. */
export async function* screeningFile(id: string): AsyncGenerator<string> {
  const { row, cohort, cutoff } = await openScreening(id);
  const ranking = asIntegers(row.ranking);
  const risks = asFloats(row.risks);
  const identifier = identifierOf(cohort);
  const table = identifier ? await loadTable(cohort, [identifier]) : undefined;
  const column = table?.columns[0];
  yield `${quote(identifier ?? 'row in file')},risk,call\r\n`;
  let lines = '';
  for (const place of ranking) {
    const name = column?.type === 'text' ? (column.values[place] ?? '') : String(place + 1);
    lines += `${quote(name)},${risks[place]},${risks[place] >= cutoff ? 'call in' : 'leave alone'}\r\n`;
    if (lines.length > 65_536) {
      yield lines;
      lines = '';
    }
  }
  yield lines;
}

export async function screeningFileName(id: string): Promise<string> {
  const { cohort } = await openScreening(id);
  return `call-in-list-${cohort.name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}.csv`;
}

function identifierOf(cohort: CohortInfo): string | undefined {
  return cohort.dictionary.find((entry) => entry.role === 'identifier')?.name;
}

function quote(cell: string): string {
  // A cell that begins like a formula would be run by a spreadsheet: the apostrophe makes it text.
  const safe = /^[=+\-@\t\r]/.test(cell) ? `'${cell}` : cell;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}
