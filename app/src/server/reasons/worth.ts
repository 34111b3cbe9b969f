import { randomUUID } from 'node:crypto';
import { and, eq, isNull, lt, or, sql } from 'drizzle-orm';
import { casesOf, readScore, takeOutcome } from '@rook-scale/core/outcome';
import { patientCosts } from '@rook-scale/core/design';
import { choosePredictors } from '@rook-scale/core/preparation';
import { worthsOf, type Moved, type Permuted, type PermuteTask } from '@rook-scale/core/reasons';
import { planParts } from '@rook-scale/core/tuning';
import type { WorthView } from '../../contract/reasons.ts';
import { candidateCutoff, candidateRow, casesInForce, notFitted } from '../candidates/index.ts';
import { loadDevelopment, recipeOn } from '../development.ts';
import { currentDesign } from '../design-in-force.ts';
import { atOnce, db, tables } from '../ground/database/index.ts';
import { Problem } from '../ground/problem.ts';
import { announce, requestReasons } from '../jobs/index.ts';

const { worth } = tables;

/** How often values are dealt anew, and by how many patients at most it is told. */
const times = 5;
const mostPatients = 20_000;

/** What predictors are worth to the fit that a candidate has now. */
export async function worthView(candidateId: string): Promise<WorthView> {
  const { fittedAt, outcome } = await candidateRow(candidateId);
  if (!fittedAt || !outcome) throw notFitted();
  const [found] = await db()
    .select()
    .from(worth)
    .where(and(eq(worth.candidateId, candidateId), eq(worth.fittedAt, fittedAt)));
  if (!found) return { state: 'none', done: 0, total: 0, together: [] };
  const { done, total, together, problem, result } = found;
  const counted = { done, total, together };
  if (problem) return { ...counted, state: 'failed', problem };
  if (!result) return { ...counted, state: 'waiting' };
  return { ...counted, state: 'there', ...result };
}

/** Has it worked out; what is being worked out for the same already stays. */
export async function askWorth(candidateId: string, together: string[][]): Promise<void> {
  const { studyId, fittedAt, state } = await candidateRow(candidateId);
  if (!fittedAt || state !== 'fitted') throw notFitted();
  const before = await worthView(candidateId);
  const isSame = JSON.stringify(before.together) === JSON.stringify(together);
  if (isSame && (before.state === 'waiting' || before.state === 'there')) return;
  await atOnce(async () => {
    const asked = {
      ...{ fittedAt, together, done: 0, total: 0, problem: null, result: null },
      ...{ aliveAt: sql`now()`, heldBy: null },
    };
    await db()
      .insert(worth)
      .values({ candidateId, ...asked })
      .onConflictDoUpdate({ target: worth.candidateId, set: asked });
    await requestReasons(candidateId);
    await announce(studyId);
  });
}

/** Seconds without a sign of life after which another worker takes it up. */
const staleSeconds = 10;

/**
 * Takes it into this worker's hands, unless it is in those of another that is alive. A worker that was frozen, and
 * wakes after another took over, no longer holds it and writes nothing.
 */
async function holdWorth(candidateId: string): Promise<string | undefined> {
  const heldBy = randomUUID();
  const [held] = await db()
    .update(worth)
    .set({ heldBy, done: 0, aliveAt: sql`now()` })
    .where(
      and(
        eq(worth.candidateId, candidateId),
        isNull(worth.result),
        isNull(worth.problem),
        or(isNull(worth.heldBy), isSilent()),
      ),
    )
    .returning({ heldBy: worth.heldBy });
  return held && heldBy;
}

const isSilent = () => lt(worth.aliveAt, sql`now() - make_interval(secs => ${staleSeconds})`);

/**
 * The worker's part: the folds to go through, and what to do with what comes of them; undefined where there is
 * nothing to do any more, or another worker is at it.
 */
export async function worthWork(candidateId: string) {
  const heldBy = await holdWorth(candidateId);
  if (heldBy === undefined) return undefined;
  const [found] = await db()
    .select({ candidate: tables.candidate, asked: worth })
    .from(worth)
    .innerJoin(tables.candidate, eq(tables.candidate.id, worth.candidateId))
    .where(and(eq(worth.candidateId, candidateId), isWanted()));
  if (!found?.candidate.outcome) return undefined;
  const { candidate, asked } = found;
  const predicted = found.candidate.outcome;
  // Asked for with other groups, or fitted again meanwhile, what comes of it is nobody's answer any more.
  const own = and(
    eq(worth.candidateId, candidateId),
    eq(worth.heldBy, heldBy),
    eq(worth.fittedAt, asked.fittedAt),
    sql`${worth.together} = ${JSON.stringify(asked.together)}::jsonb`,
  );
  const keep = async (set: Partial<typeof worth.$inferInsert>) => {
    await db().update(worth).set(set).where(own);
    await announce(candidate.studyId);
  };
  return {
    keep,
    async alive() {
      await db()
        .update(worth)
        .set({ aliveAt: sql`now()` })
        .where(own);
    },
    /** Lets another worker have it, from the beginning. */
    async giveBack() {
      const [given] = await db()
        .update(worth)
        .set({ heldBy: null })
        .where(own)
        .returning({ id: worth.candidateId });
      if (given) await requestReasons(candidateId);
    },
    /** Counted where it is kept: of two that end at once, either may be heard of first. */
    async oneDone() {
      await db()
        .update(worth)
        .set({ done: sql`${worth.done} + 1` })
        .where(own);
      await announce(candidate.studyId);
    },
    async makeTasks() {
      const ground = await loadDevelopment(candidate);
      const design = (await currentDesign(candidate.studyId))?.choices ?? ground.design;
      const cases = casesInForce(predicted, design);
      const groups = groupsOf(ground.names, asked.together);
      const { developmentRows } = ground;
      const parts = planParts(
        developmentRows,
        // Of folds that were dealt several times the first time is gone through.
        ground.folds.slice(0, developmentRows.length),
        new Int32Array(0),
      ).filter(({ name }) => name !== 'all');
      const every = Math.ceil(developmentRows.length / mostPatients);
      const predictors = choosePredictors(ground.table, ground.names);
      const recipe = recipeOn(ground, candidate.family, candidate.settings, candidate.parts);
      const tasks = parts.map((part): PermuteTask => ({
        part: { ...part, predictRows: part.predictRows.filter((_, i) => i % every === 0) },
        ...{ predictors, outcome: ground.outcome, recipe, cases, groups, times },
      }));
      return {
        tasks,
        async finish(said: Permuted[]) {
          const rows = joinedRows(tasks.map(({ part }) => part.predictRows));
          const happened = takeOutcome(ground.outcome, rows);
          const events = casesOf(happened, cases);
          const costs = design.levelCosts
            ? undefined
            : (patientCosts(design, ground.table, rows) ?? {
                missed: new Float64Array(rows.length).fill(design.missedCost),
                falseAlarm: new Float64Array(rows.length).fill(design.falseAlarmCost),
              });
          const worths = worthsOf(together(said), groups, {
            events,
            cutoff: await candidateCutoff(candidate),
            ...(costs && { costs }),
            truth:
              happened.kind === 'number'
                ? happened.values.map((value) => readScore(value, cases))
                : events,
          });
          await keep({ result: { worths, patients: rows.length, times } });
        },
      };
    },
  };
}

/** Those that nobody works at any more, though they are wanted. */
export async function forsakenWorths(): Promise<string[]> {
  const rows = await db()
    .select({ id: worth.candidateId })
    .from(worth)
    .innerJoin(tables.candidate, eq(tables.candidate.id, worth.candidateId))
    .where(and(isWanted(), isSilent()));
  return rows.map(({ id }) => id);
}

/** Asked for, not there yet, and of the fit that the candidate has now. */
const isWanted = () =>
  and(
    isNull(worth.result),
    isNull(worth.problem),
    isNull(tables.candidate.deletedAt),
    eq(tables.candidate.fittedAt, worth.fittedAt),
  );

/** Each predictor by itself, and those that were asked for together as far as they are there. */
function groupsOf(names: string[], asked: string[][]): Moved[] {
  if (names.length === 0)
    throw new Problem(409, 'no-predictors', 'It looks at no predictor: there is nothing to tell.');
  return [
    ...names.map((name) => ({ name, columns: [name] })),
    ...asked.flatMap((group) => {
      const columns = group.filter((name) => names.includes(name));
      return columns.length < 2 ? [] : [{ name: columns.join(' + '), columns }];
    }),
  ];
}

function together(said: Permuted[]): Permuted {
  const [first] = said;
  return {
    plain: joinedFloats(said.map(({ plain }) => plain)),
    moved: first.moved.map((own, k) =>
      own.map((_, time) => joinedFloats(said.map(({ moved }) => moved[k][time]))),
    ),
  };
}

function joinedFloats(arrays: Float64Array[]): Float64Array {
  const all = new Float64Array(arrays.reduce((sum, { length }) => sum + length, 0));
  arrays.reduce((end, one) => (all.set(one, end), end + one.length), 0);
  return all;
}

function joinedRows(arrays: Int32Array[]): Int32Array {
  return Int32Array.from(arrays.flatMap((one) => Array.from(one)));
}
