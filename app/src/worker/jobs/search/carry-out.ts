import { randomUUID } from 'node:crypto';
import { availableParallelism } from 'node:os';
import { and, eq, sql } from 'drizzle-orm';
import { DesignError } from '@rook-scale/core/design';
import type { Settings } from '@rook-scale/core/families';
import { raceShares, survivorsOf } from '@rook-scale/core/search';
import { db, passesByItself, tables } from '../../../server/ground/database/index.ts';
import { logError } from '../../../server/ground/log.ts';
import { Problem } from '../../../server/ground/problem.ts';
import { announce } from '../../../server/jobs/index.ts';
import {
  addPieces,
  measureFor,
  partNames,
  searchRow,
  trialsOf,
  workOf,
  type SearchRow,
} from '../../../server/searches/index.ts';
import type { WorkerThreads } from '../../threads.ts';
import { giveWay } from '../giving-way.ts';
import { claimPieces, keepPieces, type ClaimedPiece } from './claim.ts';
import { loadGround, rarerOf, roundOf, type Round, type SearchGround } from './round.ts';
import { locked } from './locked.ts';
import { forgetRounds, isUnfinished, settle, tellBest } from './settle.ts';

const { search } = tables;

/** Works at a search until nothing of it is left to be done, or others are at what is left. */
export async function carryOut(
  first: SearchRow,
  threads: WorkerThreads,
  signal: AbortSignal,
): Promise<void> {
  try {
    await announce(first.studyId);
    const ground = await loadGround(first);
    const all = await trialsOf(first.id);
    const settings = new Map(all.map(({ number, settings: own }) => [number, own]));
    await planned(first, ground);
    for (let going = true; going;) {
      const row = await searchRow(first.id);
      if (row.run !== first.run || row.state !== 'running') return;
      const round = roundOf(ground, row.shares![row.round], row);
      await tryAll(row, ground, round, settings, threads, signal);
      going = await endRound(row, ground, round, threads, signal);
    }
  } catch (error) {
    if (signal.aborted) return;
    // As good as before: without a sign of life it is taken up again.
    if (passesByItself(error)) throw error;
    const [failed] = await db()
      .update(search)
      .set({ state: 'failed', problem: sentenceOf(error), endedAt: sql`now()` })
      .where(and(eq(search.id, first.id), eq(search.run, first.run), eq(search.state, 'running')))
      .returning({ studyId: search.studyId });
    if (failed) await announce(failed.studyId);
  }
}

/** Plans rounds and the pieces of the first, unless that was done. */
async function planned({ id, run }: SearchRow, ground: SearchGround): Promise<void> {
  await locked(id, run, async (row) => {
    if (row.shares) return;
    const trials = await trialsOf(id);
    const settings = trials.map((one) => one.settings);
    const shares =
      row.plan.way.kind === 'race'
        ? raceShares(trials.length, ground.developmentRows.length, rarerOf(ground))
        : [1];
    const parts = partsOf(row, ground);
    await addPieces(row, trials, 0, parts);
    await db()
      .update(search)
      .set({ shares, workTotal: workAhead(row, ground, settings, shares) })
      .where(eq(search.id, id));
  });
}

const partsOf = ({ plan }: SearchRow, { folds }: SearchGround): string[] =>
  partNames(folds.reduce((most, fold) => Math.max(most, fold), 0) + 1, plan.fewer);

/** Fits of these rounds; how many settings of those that go on share a fit is not known yet. */
function workAhead(
  row: SearchRow,
  ground: SearchGround,
  settings: Settings[],
  shares: number[],
): number {
  const ofPart = workOf(row, settings, ground.names.length);
  const fits = partsOf(row, ground).reduce((sum, part) => sum + ofPart(part), 0);
  return shares.reduce((sum, share, round) => sum + (share * fits) / 3 ** round, 0);
}

/** Milliseconds of work that a thread takes at a time, and pieces at most. */
const takenFor = 250;
const takenAtMost = 64;
/** Milliseconds between two looks at what can be judged at least, and as a multiple of how long one takes. */
const settleEvery = 900;
const settleTimes = 8;

/** Fits what of a round nobody else is at, and judges settings as they are whole. */
async function tryAll(
  row: SearchRow,
  ground: SearchGround,
  round: Round,
  settings: Map<number, Settings>,
  threads: WorkerThreads,
  signal: AbortSignal,
): Promise<void> {
  const { predictors, outcome, recipe, by } = ground;
  const share = row.shares![row.round];
  const { fewer, growing, fixed } = row.plan;
  const ofPart = workOf(row, [...settings.values()], ground.names.length);
  const parts = new Map(round.parts.map((part) => [part.name, part]));
  let isSettling = false;
  let settleAt = performance.now() + settleEvery;
  // In its own lane: a further thread would take its time from the others, and begin cold.
  const settleNow = async () => {
    const began = performance.now();
    if (isSettling || began < settleAt) return;
    isSettling = true;
    await settle(row, row.round, ground, round, threads, signal);
    const ended = performance.now();
    settleAt = ended + Math.max(settleEvery, settleTimes * (ended - began));
    isSettling = false;
  };
  const lane = async (_: unknown, place: number) => {
    let most = 1;
    for (;;) {
      await giveWay(place, signal);
      const claimed = await claimPieces(row, row.round, most);
      if (claimed.length === 0) return;
      const began = performance.now();
      const results = await threads.run(
        'try',
        {
          key: `${row.id} ${row.designId} ${row.round}`,
          predictors,
          outcome,
          recipe,
          by,
          ...(fewer && { fewer: { plan: fewer, settings: fixed } }),
          ...(growing && { growing: { settings: fixed, shares: sharesOf(settings) } }),
          pieces: claimed.map(({ number, part, trials }: ClaimedPiece) => ({
            number,
            part: parts.get(part)!,
            group: trials.map((one) => settings.get(one)!),
            known: round.preparations?.learned(part),
          })),
        },
        signal,
      );
      const each = (performance.now() - began) / claimed.length;
      most = Math.max(1, Math.min(takenAtMost, 4 * most, Math.floor(takenFor / each)));
      for (const { part, preparation } of results)
        if (preparation) round.preparations?.keep(part, preparation);
      await keepPieces(row, results, (fewer ?? growing) ? ofPart : () => share);
      await settleNow();
    }
  };
  await Promise.all(Array.from({ length: availableParallelism() }, lane));
}

/** Of the patients that a fold learns from, in the order of what is compared. */
function sharesOf(settings: Map<number, Settings>): number[] {
  const sizes = [...settings.values()].map(({ patients }) => Number(patients));
  const all = Math.max(...sizes);
  return sizes.map((size) => size / all);
}

/** Judges what is left, and then goes to the next round or ends the search. @returns whether there is more to do */
async function endRound(
  row: SearchRow,
  ground: SearchGround,
  round: Round,
  threads: WorkerThreads,
  signal: AbortSignal,
): Promise<boolean> {
  const { id, studyId, run } = row;
  // Only what is judged after all is fitted is sure to be all: another worker may keep its last piece meanwhile.
  const isOthers = await isUnfinished(id, row.round);
  await settle(row, row.round, ground, round, threads, signal);
  if (isOthers) return false;
  let more = false;
  await locked(id, run, async (now) => {
    // Another worker may have ended the round.
    if (now.round !== row.round) {
      more = true;
      return;
    }
    if (now.round === now.shares!.length - 1) {
      // Whoever judged the last ones may not have come to tell it.
      await tellBest(now, now.round, ground);
      await db()
        .update(search)
        .set({ state: 'done', endedAt: sql`now()`, workDone: sql`${search.workTotal}` })
        .where(eq(search.id, id));
      return;
    }
    await nextRound(now, ground);
    more = true;
  });
  await announce(studyId);
  return more;
}

async function nextRound(row: SearchRow, ground: SearchGround): Promise<void> {
  const { id, round, shares, workDone, plan } = row;
  const measure = measureFor(ground.outcome.kind, plan.measure);
  const raced = (await trialsOf(id)).filter(({ judgedRound }) => judgedRound === round);
  const tried = raced.map(({ settings, figures }) => ({ settings, figure: figures?.[measure.id] }));
  const left = survivorsOf(tried, measure).map((place) => raced[place]);
  await addPieces(row, left, round + 1, partsOf(row, ground));
  const ahead = workAhead(
    row,
    ground,
    left.map(({ settings }) => settings),
    shares!.slice(round + 1),
  );
  await db()
    .update(search)
    .set({ round: round + 1, workTotal: workDone + ahead })
    .where(eq(search.id, id));
  await forgetRounds(id, round + 1);
}

function sentenceOf(error: unknown): string {
  if (error instanceof Problem) return error.sentence;
  if (error instanceof DesignError) return error.message;
  const reference = randomUUID().slice(0, 8);
  logError(`search error ${reference}`, error);
  return `The search stopped on an error that we did not foresee. What was fitted is kept; go on with it. Reference ${reference}.`;
}
