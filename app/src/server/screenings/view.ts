import { and, asc, eq, isNull } from 'drizzle-orm';
import type { FitWarning } from '@rook-scale/core/families';
import { showValue } from '@rook-scale/core/table';
import {
  candidateCutoff,
  candidateName,
  candidateRow,
  pack,
  type Predictions,
} from '../candidates.ts';
import { cohortFingerprint, cohortInfo, loadTable, type CohortInfo } from '../cohorts/index.ts';
import { db, tables } from '../ground/database/index.ts';
import { asBytes, asFloats, asIntegers } from '../files/index.ts';
import { same } from '../ground/same.ts';
import { notFound, Problem } from '../ground/problem.ts';
import { bitsOf, countMarked } from './bits.ts';
import type { CohortCheck } from './check.ts';

/** A scored cohort, without its rows. */
export interface ScreeningView extends CohortCheck {
  id: string;
  studyId: string;
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
  /** What has changed since this cohort was scored: its own values, the candidate's fit, or how columns are matched. */
  outOfDate: 'list' | 'fit' | 'matching' | null;
  /** What is to be said of the fit that gave these risks. */
  warnings: FitWarning[];
  /** Patients who lack a predictor that must be known; they have no risk. */
  unscored: number;
  createdAt: Date;
}

type ScreeningRow = typeof tables.screening.$inferSelect;

/** One line of the call-in list. */
export interface ScreenedRow {
  rank: number;
  /** Place in the file, from 0. */
  row: number;
  /** null where a predictor that must be known is not. */
  risk: number | null;
  /** Predictors whose value hardly any development patient had. */
  unfamiliar: string[];
  /** As in the cohort's dictionary; the identifier first if there is one. */
  cells: string[];
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
    studyId: row.studyId,
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
    matching: row.matching,
    unfamiliarPatients: row.unfamiliarRows
      ? countMarked(row.unfamiliarRows, row.unfamiliar.length)
      : 0,
    unscored: risks.reduce((count, risk) => count + Number(Number.isNaN(risk)), 0),
    warnings: candidate.warnings,
    outOfDate: outOfDate(row, candidate.fittedAt, cohort),
    createdAt: row.createdAt,
  };
}

function outOfDate(
  row: ScreeningRow,
  fittedAt: Date | null,
  cohort: CohortInfo,
): ScreeningView['outOfDate'] {
  if (isOfAnotherList(row, cohort)) return 'list';
  if (fittedAt !== null && fittedAt > row.createdAt) return 'fit';
  return same(row.matching, cohort.matching) ? null : 'matching';
}

/** Whether the list has been read in another way since, so that risks and patients do not belong together. */
function isOfAnotherList({ patients, risks }: ScreeningRow, cohort: CohortInfo): boolean {
  const count = risks.length / Float64Array.BYTES_PER_ELEMENT;
  return count !== cohort.rowCount || (patients !== null && patients !== cohortFingerprint(cohort));
}

/** Risks are shown beside patients only where they are theirs. */
export function refuseAnotherList(row: ScreeningRow, cohort: CohortInfo): void {
  if (!isOfAnotherList(row, cohort)) return;
  throw new Problem(
    409,
    'list-changed',
    `${cohort.name} was changed after it was scored, so these risks are not those of its patients as they stand now. Score it again.`,
  );
}

function knownPredictions(risks: Float64Array, events: Buffer | null): ScreeningView['known'] {
  if (!events) return null;
  const outcome = new Int8Array(Uint8Array.from(events).buffer);
  const rows = Array.from(outcome.keys()).filter(
    (row) => outcome[row] >= 0 && !Number.isNaN(risks[row]),
  );
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
    .where(and(eq(tables.look.candidateId, candidate.id), eq(tables.look.fittedAt, fittedAt)))
    .limit(1);
  return look ? pack(heldOutRisks, heldOutEvents) : null;
}

export async function openScreening(id: string) {
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
  refuseAnotherList(row, cohort);
  const ranking = asIntegers(row.ranking);
  const risks = asFloats(row.risks);
  const places = Array.from(ranking.slice(from, from + count));
  const table = await loadTable(cohort);
  return places.map((place, i) => ({
    rank: from + i + 1,
    row: place,
    risk: Number.isNaN(risks[place]) ? null : risks[place],
    unfamiliar: row.unfamiliarRows
      ? bitsOf(row.unfamiliarRows, row.unfamiliar.length, place).map((j) => row.unfamiliar[j])
      : [],
    cells: table.columns.map((column, j) =>
      showValue(column, place, table.dictionary[j].kind === 'date'),
    ),
  }));
}
