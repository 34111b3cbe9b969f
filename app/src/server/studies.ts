import { count, desc, eq, isNull, sql } from 'drizzle-orm';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import type { CandidateLine } from '../contract/candidates.ts';
import { listCandidates } from './candidates/index.ts';
import { countLists, developmentInBrief } from './cohorts/index.ts';
import { db, tables } from './ground/database/index.ts';
import { currentDesign } from './design-in-force.ts';
import { listLooks } from './looks.ts';
import { announce } from './jobs/index.ts';
import { notFound } from './ground/problem.ts';
import { remembered } from './remembered.ts';
import { historyOf } from './designs/revisions.ts';
import { listScreenings } from './screenings/index.ts';
import type { Overview, OutcomeInWords } from '../contract/studies.ts';

export async function createStudy(name: string): Promise<string> {
  const [{ id }] = await db()
    .insert(tables.study)
    .values({ name })
    .returning({ id: tables.study.id });
  await announce(id);
  return id;
}

export async function renameStudy(id: string, name: string): Promise<void> {
  await db().update(tables.study).set({ name }).where(eq(tables.study.id, id));
  await announce(id);
}

/** The study that was opened last. */
export async function latestStudy(): Promise<string | undefined> {
  const [found] = await db()
    .select({ id: tables.study.id })
    .from(tables.study)
    .where(isNull(tables.study.deletedAt))
    .orderBy(desc(tables.study.openedAt))
    .limit(1);
  return found?.id;
}

/** Keeps which study was opened last. */
export async function markOpened(id: string): Promise<void> {
  await db()
    .update(tables.study)
    .set({ openedAt: sql`now()` })
    .where(eq(tables.study.id, id));
}

export async function countStudies(): Promise<number> {
  const [{ studies }] = await db().select({ studies: count() }).from(tables.study);
  return studies;
}

export function overviewOf(studyId: string): Promise<Overview> {
  return remembered(`overview ${studyId}`, () => readOverview(studyId));
}

async function readOverview(studyId: string): Promise<Overview> {
  const studies = await db()
    .select({ id: tables.study.id, name: tables.study.name })
    .from(tables.study)
    .where(isNull(tables.study.deletedAt))
    .orderBy(tables.study.createdAt);
  const study = studies.find((one) => one.id === studyId);
  if (!study) throw notFound('The study');
  const design = await currentDesign(studyId);
  const [cohort, candidates, looks, lists, screenings, history] = await Promise.all([
    developmentInBrief(studyId),
    listCandidates(studyId, design),
    listLooks(studyId),
    countLists(studyId),
    listScreenings(studyId),
    historyOf(studyId),
  ]);
  const outcome = cohort?.dictionary.find((entry) => entry.name === design?.choices.outcome);
  return {
    study,
    studies,
    cohort: cohort
      ? { name: cohort.name, rowCount: cohort.rowCount, columnCount: cohort.dictionary.length }
      : null,
    design: design ?? null,
    outcome: outcome ? describeOutcome(outcome, design?.choices.event ?? '') : null,
    candidates: summarise(candidates),
    looks: { count: looks.length, first: looks[0]?.at ?? null },
    screening: {
      cohorts: lists,
      scored: new Set(screenings.map((screening) => screening.cohortId)).size,
    },
    history: cohort ? history : { undo: null, redo: null },
  };
}

function describeOutcome(entry: DictionaryEntry, event: string): OutcomeInWords {
  const levels = entry.levels ?? [];
  const others = levels.filter((level) => level !== event);
  return {
    label: display(entry),
    unit: entry.unit,
    levels,
    ordered: entry.kind === 'ordered category',
    event,
    other: others.length === 1 ? others[0] : `not ${event}`,
  };
}

function summarise(candidates: CandidateLine[]): Overview['candidates'] {
  const costs = candidates.flatMap((line) =>
    line.results && !line.outOfDate && line.family !== 'reference'
      ? [line.results.costPerThousand]
      : [],
  );
  return {
    fitted: candidates.filter((line) => line.results && !line.outOfDate).length,
    atWork: candidates.filter((line) => line.state === 'waiting' || line.state === 'fitting')
      .length,
    outOfDate: candidates.filter((line) => line.results && line.outOfDate).length,
    bestCost: costs.length > 0 ? Math.min(...costs) : null,
  };
}
