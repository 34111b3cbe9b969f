import { count, desc, eq, isNull, sql } from 'drizzle-orm';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import type { CandidateLine } from '../contract/candidates.ts';
import { candidateName, candidateRow, listCandidates, notFitted } from './candidates/index.ts';
import { countLists, developmentInBrief } from './cohorts/index.ts';
import { atOnce, db, inTurn, tables } from './ground/database/index.ts';
import { currentDesign } from './design-in-force.ts';
import { listLooks } from './looks.ts';
import { announce } from './jobs/index.ts';
import { notFound, Problem } from './ground/problem.ts';
import { remembered } from './remembered.ts';
import { historyOf, recordAct } from './acts/index.ts';
import { listScreenings } from './screenings/index.ts';
import type { Look } from '../contract/looks.ts';
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
  await inTurn(id, () =>
    atOnce(async () => {
      const before = await nameOfStudy(id);
      if (before === name) return;
      await db().update(tables.study).set({ name }).where(eq(tables.study.id, id));
      await recordAct(id, `study renamed ${name}`, {
        ...{ kind: 'value', of: 'name', id, before, after: name },
      });
      await announce(id);
    }),
  );
}

export const nameOfStudy = async (id: string): Promise<string> => (await studyRow(id)).name;

/** The candidate that is chosen; null for none. */
export const chosenOfStudy = async (id: string): Promise<string | null> =>
  (await studyRow(id)).chosenId;

async function studyRow(id: string) {
  const [found] = await db().select().from(tables.study).where(eq(tables.study.id, id));
  if (!found) throw notFound('The study');
  return found;
}

/** Chooses the candidate that the study goes on with; null for none. */
export async function chooseCandidate(studyId: string, candidateId: string | null): Promise<void> {
  await inTurn(studyId, async () => {
    let name = '';
    if (candidateId) {
      const candidate = await candidateRow(candidateId);
      if (candidate.studyId !== studyId) throw notFound('The candidate');
      if (candidate.family === 'reference')
        throw new Problem(
          409,
          'reference-chosen',
          'The reference candidate gives every patient the same risk. Choose another candidate.',
        );
      if (!candidate.fittedAt) throw notFitted();
      name = candidateName(candidate);
    }
    await atOnce(async () => {
      const before = await chosenOfStudy(studyId);
      if (before === candidateId) return;
      await db()
        .update(tables.study)
        .set({ chosenId: candidateId })
        .where(eq(tables.study.id, studyId));
      await recordAct(studyId, name ? `${name} chosen` : 'no candidate chosen', {
        ...{ kind: 'value', of: 'chosen', id: studyId, before, after: candidateId },
      });
      await announce(studyId);
    });
  });
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

/** With the history of the person who asks. */
export async function overviewOf(studyId: string): Promise<Overview> {
  const [shared, history] = await Promise.all([
    remembered(`overview ${studyId}`, () => readOverview(studyId)),
    historyOf(studyId),
  ]);
  return { ...shared, history };
}

async function readOverview(studyId: string): Promise<Omit<Overview, 'history'>> {
  const studies = await db()
    .select({ id: tables.study.id, name: tables.study.name, chosenId: tables.study.chosenId })
    .from(tables.study)
    .where(isNull(tables.study.deletedAt))
    .orderBy(tables.study.createdAt);
  const study = studies.find((one) => one.id === studyId);
  if (!study) throw notFound('The study');
  const design = await currentDesign(studyId);
  const [cohort, candidates, looks, lists, screenings] = await Promise.all([
    developmentInBrief(studyId),
    listCandidates(studyId, design),
    listLooks(studyId),
    countLists(studyId),
    listScreenings(studyId),
  ]);
  const outcome = cohort?.dictionary.find((entry) => entry.name === design?.choices.outcome);
  const brief = ({ id, name }: { id: string; name: string }) => ({ id, name });
  return {
    study: brief(study),
    studies: studies.map(brief),
    cohort: cohort
      ? { name: cohort.name, rowCount: cohort.rowCount, columnCount: cohort.dictionary.length }
      : null,
    design: design ?? null,
    outcome: outcome ? describeOutcome(outcome, design?.choices.event ?? '') : null,
    chosen: chosenOf(study.chosenId, candidates),
    candidates: summarise(candidates),
    looks: countLooks(looks),
    screening: {
      cohorts: lists,
      scored: new Set(screenings.map((screening) => screening.cohortId)).size,
    },
  };
}

/** Looks of which it is not known who was shown count as looks at the patients of now. */
function countLooks(looks: Look[]): Overview['looks'] {
  const own = looks.filter(({ standing }) => standing?.isOfThisSplit !== false);
  return { count: own.length, first: own[0]?.at ?? null, earlier: looks.length - own.length };
}

function chosenOf(id: string | null, candidates: CandidateLine[]): Overview['chosen'] {
  const line = candidates.find((one) => one.id === id);
  if (!line) return null;
  const { name, seen, outOfDate } = line;
  return { id: line.id, name, seen, outOfDate };
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
