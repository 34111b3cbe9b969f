import { and, asc, eq, isNull } from 'drizzle-orm';
import {
  caseScores,
  isKnown,
  takeOutcome,
  takePredictions,
  unpackOutcome,
  unpackPredictions,
  type CaseRule,
  type Predictions as OfAnyKind,
} from '@rook-scale/core/outcome';
import { columnsOfCosts, patientCosts, side } from '@rook-scale/core/design';
import type { PatientCosts } from '@rook-scale/core/measures';
import { showValue } from '@rook-scale/core/table';
import { callsOf } from '@rook-scale/core/screening';
import type { CandidateVersion, Predictions } from '../../contract/candidates.ts';
import type { CohortInfo } from '../../contract/cohorts.ts';
import {
  candidateName,
  candidateRow,
  clustersAmong,
  clustersIn,
  clustersOfPredictions,
  currentVersion,
  isSameVersion,
  keptPredictions,
  ownCosts,
  pack,
  type CandidateRow,
} from '../candidates/index.ts';
import { cohortFingerprint, cohortInfo, loadTable } from '../cohorts/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { db, tables } from '../ground/database/index.ts';
import { asBytes, asFloats, asIntegers } from '../files/index.ts';
import { same } from '../ground/same.ts';
import { notFound, Problem } from '../ground/problem.ts';
import { bitsOf, countEach, countMarked } from './bits.ts';
import { studyPatients } from './check.ts';
import { studyPatientsIn } from './study-patients.ts';
import type { ScreeningView, ScreenedRow } from '../../contract/screenings.ts';

type ScreeningRow = typeof tables.screening.$inferSelect;

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
  const { row, cohort, candidate, version, calls, risks, predictions, outcome, levelCosts } =
    await openScreening(id);
  const now = await currentVersion(candidate);
  const changed = outOfDate(row, version, now, cohort);
  const heldOut = await seenHeldOut(candidate, row.cases);
  const known = await knownPredictions(row, predictions, cohort, await openTo(candidate, heldOut));
  return {
    id,
    studyId: row.studyId,
    cohort: { id: cohort.id, name: cohort.name, fileName: cohort.file.name },
    candidateId: candidate.id,
    candidateName: candidateName(candidate),
    family: candidate.family,
    version,
    ...(changed === 'version' && { now }),
    calls: { ...calls, rule: row.calls },
    ...known,
    ...(await studyPatients(cohort)),
    heldOut,
    outcome: { ...outcome, cases: row.cases },
    ...(levelCosts && { levelCosts }),
    risks: asBytes(risks).toString('base64'),
    rowCount: cohort.rowCount,
    predictors: row.predictors,
    extraColumns: row.extraColumns,
    matching: row.matching,
    unfamiliarPatients: row.unfamiliarRows
      ? countMarked(row.unfamiliarRows, row.unfamiliar.length)
      : 0,
    unfamiliarForAll: unfamiliarForAll(row, risks),
    unscored: risks.reduce((count, risk) => count + Number(Number.isNaN(risk)), 0),
    ...unusualIn(row),
    warnings: candidate.warnings,
    outOfDate: changed,
    createdAt: row.createdAt.toISOString(),
  };
}

/** Predictors that mark every scored patient; of one patient alone there is no "every". */
function unfamiliarForAll(
  { unfamiliar, unfamiliarRows }: ScreeningRow,
  risks: Float64Array,
): string[] {
  if (!unfamiliarRows) return [];
  const scored = risks.reduce((count, risk) => count + Number(!Number.isNaN(risk)), 0);
  const counts = countEach(unfamiliarRows, unfamiliar.length);
  return scored < 2 ? [] : unfamiliar.filter((_, i) => counts[i] === scored);
}

function unusualIn({ unusual, unusualFrom: from }: ScreeningRow): Pick<ScreeningView, 'unusual'> {
  if (!unusual || from === null) return {};
  const patients = asFloats(unusual).reduce((count, score) => count + Number(score > from), 0);
  return { unusual: { patients, from } };
}

function outOfDate(
  row: ScreeningRow,
  version: CandidateVersion,
  now: CandidateVersion,
  cohort: CohortInfo,
): ScreeningView['outOfDate'] {
  if (isOfAnotherList(row, cohort)) return 'list';
  if (version.fittedAt !== now.fittedAt) return 'fit';
  if (!same(row.cases, now.cases)) return 'cases';
  if (!same(row.matching, cohort.matching)) return 'matching';
  return isSameVersion(version, now) ? null : 'version';
}

/** Whether the list has been read in another way since, so that risks and patients do not belong together. */
function isOfAnotherList({ patients, ranking }: ScreeningRow, cohort: CohortInfo): boolean {
  const count = ranking.length / Int32Array.BYTES_PER_ELEMENT;
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

/** Predictions as they were kept. */
export const predictionsIn = ({ header, values }: ScreeningRow): OfAnyKind =>
  unpackPredictions({ header, bytes: values });

async function knownPredictions(
  row: ScreeningRow,
  predictions: OfAnyKind,
  cohort: CohortInfo,
  open: OpenTo,
): Promise<Pick<ScreeningView, 'known' | 'closed'>> {
  const closed = { heldOut: 0, sealed: 0 };
  if (!row.outcome) return { known: null, closed };
  const study = isOfAnotherList(row, cohort) ? undefined : await studyPatientsIn(cohort);
  const outcome = unpackOutcome({ header: row.header, bytes: row.outcome });
  const scores = caseScores(predictions, row.cases);
  const rows = Array.from(scores.keys()).filter((place) => {
    if (!isKnown(outcome, place) || Number.isNaN(scores[place])) return false;
    const on = study?.sides[place];
    if (on === side.heldOut && !open.heldOut) closed.heldOut++;
    else if (on === side.sealed && !open.sealed) closed.sealed++;
    else return true;
    return false;
  });
  if (rows.length === 0) return { known: null, closed };
  const judged = {
    outcome: takeOutcome(outcome, rows),
    predictions: takePredictions(predictions, rows),
  };
  const own = isOfAnotherList(row, cohort) ? undefined : await costsInList(cohort, rows);
  const design = (await currentDesign(cohort.studyId))?.choices;
  const codes =
    design && !isOfAnotherList(row, cohort) ? await clustersIn(cohort, design) : undefined;
  return {
    closed,
    known: {
      patients: rows.length,
      predictions: pack(judged, row.cases, own, 1, codes && clustersAmong(codes, rows)),
    },
  };
}

/** Whose outcomes a list may show beside a candidate's risks. */
interface OpenTo {
  heldOut: boolean;
  sealed: boolean;
}

/** Held-out patients after a look at this fit; sealed ones only where they were opened with it. */
async function openTo(
  { id, studyId, fittedAt }: CandidateRow,
  heldOut: Predictions | null,
): Promise<OpenTo> {
  const { sealedOpening } = tables;
  const [opening] = await db()
    .select({ candidateId: sealedOpening.candidateId, at: sealedOpening.at })
    .from(sealedOpening)
    .where(eq(sealedOpening.studyId, studyId));
  return {
    heldOut: heldOut !== null,
    sealed: opening?.candidateId === id && fittedAt !== null && fittedAt <= opening.at,
  };
}

/** What errors cost each of these patients, where the list has the columns that say it. */
async function costsInList(cohort: CohortInfo, rows: number[]): Promise<PatientCosts | undefined> {
  const design = (await currentDesign(cohort.studyId))?.choices;
  const names = design ? columnsOfCosts(design) : [];
  const has = (name: string) =>
    cohort.dictionary.some((entry) => entry.name === name && entry.kind === 'number');
  if (!design || names.length === 0 || !names.every(has)) return undefined;
  return patientCosts(design, await loadTable(cohort, names), rows);
}

/** What a look has already shown of this fit; showing it again beside another cohort is no new judgement. */
async function seenHeldOut(candidate: CandidateRow, cases: CaseRule): Promise<Predictions | null> {
  const { fittedAt } = candidate;
  if (!fittedAt) return null;
  const [look] = await db()
    .select({ id: tables.look.id })
    .from(tables.look)
    .where(and(eq(tables.look.candidateId, candidate.id), eq(tables.look.fittedAt, fittedAt)))
    .limit(1);
  if (!look) return null;
  const design = await currentDesign(candidate.studyId);
  const own = design && (await ownCosts(candidate, design.choices, 'held out'));
  return pack(
    await keptPredictions(candidate.id, 'held out'),
    cases,
    own,
    1,
    await clustersOfPredictions(candidate, 'held out'),
  );
}

export async function openScreening(id: string) {
  const [row] = await db().select().from(tables.screening).where(eq(tables.screening.id, id));
  if (!row) throw notFound('The screening');
  const candidate = await candidateRow(row.candidateId);
  if (!candidate.outcome) throw notFound('The screening');
  const version = row.scoredWith ?? (await versionBefore(row, candidate));
  const predictions = predictionsIn(row);
  const risks = caseScores(predictions, row.cases);
  return {
    row,
    candidate,
    outcome: candidate.outcome,
    /** What scored it, as it was then. */
    version,
    predictions,
    risks,
    calls: callsOf(row.calls, version.cutoff, risks, predictions.kind),
    levelCosts: version.costs.levels,
    cohort: await cohortInfo(row.cohortId),
  };
}

/** Of a list that was scored before versions were kept: the one of now; of an earlier fit nothing is known. */
export async function versionBefore(
  { createdAt }: ScreeningRow,
  candidate: CandidateRow,
): Promise<CandidateVersion> {
  const version = await currentVersion(candidate);
  const isOfThisFit = candidate.fittedAt !== null && candidate.fittedAt <= createdAt;
  return isOfThisFit ? version : { ...version, number: 0, fittedAt: '' };
}

/** Lines `from` … of the call-in list, highest risk first. */
export async function screenedRows(
  id: string,
  from: number,
  count: number,
): Promise<ScreenedRow[]> {
  const { row, cohort, predictions, risks } = await openScreening(id);
  refuseAnotherList(row, cohort);
  const ranking = asIntegers(row.ranking);
  const intervals = row.intervals && asFloats(row.intervals);
  const unusual = row.unusual && asFloats(row.unusual);
  const places = Array.from(ranking.slice(from, from + count));
  const table = await loadTable(cohort);
  return places.map((place, i) => ({
    rank: from + i + 1,
    row: place,
    risk: Number.isNaN(risks[place]) ? null : risks[place],
    ...(predictions.kind === 'levels' &&
      !Number.isNaN(risks[place]) && {
        shares: Array.from(
          predictions.shares.subarray(
            place * predictions.levels.length,
            (place + 1) * predictions.levels.length,
          ),
        ),
      }),
    ...(intervals &&
      !Number.isNaN(risks[place]) && {
        interval: [intervals[2 * place], intervals[2 * place + 1]] as [number, number],
      }),
    unfamiliar: row.unfamiliarRows
      ? bitsOf(row.unfamiliarRows, row.unfamiliar.length, place).map((j) => row.unfamiliar[j])
      : [],
    ...(unusual && { unusual: unusual[place] }),
    cells: table.columns.map((column, j) =>
      showValue(column, place, table.dictionary[j].kind === 'date'),
    ),
  }));
}
