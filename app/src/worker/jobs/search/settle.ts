import { writeJson } from '@rook-scale/core/stored';
import { and, eq, isNotNull, lt, sql } from 'drizzle-orm';
import { familyOf } from '@rook-scale/core/families';
import { chooseTried, fieldsTried, type TriedFigures } from '@rook-scale/core/search';
import { db, tables } from '../../../server/ground/database/index.ts';
import { announce } from '../../../server/jobs/index.ts';
import {
  measureFor,
  ofFolds,
  trialsOf,
  type KeptPiece,
  type SearchRow,
} from '../../../server/searches/index.ts';
import type { WorkerThreads } from '../../threads.ts';
import { locked } from './locked.ts';
import type { Round, SearchGround } from './round.ts';

const { search, searchPiece, trial } = tables;

/** Predictions that are judged at once on one thread. */
const atATime = 2e6;

/** Judges the settings of which every part of the round is fitted by now, and says which is the best so far. */
export async function settle(
  row: SearchRow,
  round: number,
  ground: SearchGround,
  { outcome, folds, places, by }: Round,
  threads: WorkerThreads,
  signal: AbortSignal,
): Promise<void> {
  const whole = await fittedWhole(row.id, round, Object.keys(places).length);
  if (whole.length === 0) return;
  const many = Math.max(1, Math.floor(atATime / folds.length));
  const shares = Array.from({ length: Math.ceil(whole.length / many) }, (_, i) =>
    whole.slice(i * many, (i + 1) * many),
  );
  for (const trials of shares) {
    const pieces = await piecesOf(row.id, round, trials);
    const problems = new Map(
      pieces.flatMap(({ trials: own, problem, problems: each }) =>
        own.flatMap((one, i) => {
          const sentence = problem ?? each?.[i];
          return sentence ? [[one, sentence] as const] : [];
        }),
      ),
    );
    const kept = pieces.filter((piece): piece is typeof piece & KeptPiece => piece.values !== null);
    const fitted = kept.map(({ part, trials: own, header, values }): KeptPiece => ({
      part,
      trials: own,
      header,
      values,
    }));
    const judged =
      fitted.length > 0
        ? await threads.run(
            'judge',
            { outcome, pieces: fitted, places, folds, times: ground.times, by },
            signal,
          )
        : [];
    const figures = new Map(judged.map((one) => [one.trial, one.figures]));
    await writeTrials(
      row,
      round,
      trials.flatMap((number): JudgedTrial[] => {
        const problem = problems.get(number);
        if (problem) return [{ number, problem }];
        const found = figures.get(number);
        return found ? [{ number, figures: found, development: meanOf(kept, number) }] : [];
      }),
    );
  }
  // What was judged meanwhile is read with the row held, so that nobody writes an older best over a newer one.
  await locked(row.id, row.run, () => tellBest(row, round, ground));
  await announce(row.studyId);
}

/** Numbers of the settings that are fitted on every part of a round and not judged there yet. */
async function fittedWhole(searchId: string, round: number, parts: number): Promise<number[]> {
  const found = await db().execute<{ number: number }>(sql`
    select one.number from (
      select unnest(${searchPiece.trials}) as number from ${searchPiece}
      where ${searchPiece.searchId} = ${searchId} and ${searchPiece.round} = ${round}
        and ${searchPiece.doneAt} is not null and ${ofFolds}
    ) one join ${trial} on ${trial.searchId} = ${searchId} and ${trial.number} = one.number
      and ${trial.judgedRound} < ${round}
    group by one.number having count(*) = ${parts} order by one.number`);
  return found.rows.map(({ number }) => number);
}

/** The pieces that any of these settings came with; what is not asked for comes along where one fit gave both. */
const piecesOf = (searchId: string, round: number, trials: number[]) =>
  db()
    .select({
      part: searchPiece.part,
      trials: searchPiece.trials,
      problem: searchPiece.problem,
      problems: searchPiece.problems,
      development: searchPiece.development,
      header: searchPiece.header,
      values: searchPiece.values,
    })
    .from(searchPiece)
    .where(
      and(
        eq(searchPiece.searchId, searchId),
        eq(searchPiece.round, round),
        isNotNull(searchPiece.doneAt),
        ofFolds,
        sql`${searchPiece.trials} && ${sql.param(`{${trials.join()}}`)}::int[]`,
      ),
    );

interface JudgedTrial {
  number: number;
  figures?: TriedFigures;
  development?: Record<string, number> | null;
  problem?: string;
}

async function writeTrials({ id }: SearchRow, round: number, judged: JudgedTrial[]): Promise<void> {
  await db().execute(sql`
    update ${trial} set judged_round = ${round}, figures = found.figures,
      development = found.development, problem = found.problem
    from jsonb_to_recordset(${writeJson(judged)}::jsonb)
      as found (number integer, figures jsonb, development jsonb, problem text)
    where ${trial.searchId} = ${id} and ${trial.number} = found.number
      and ${trial.judgedRound} < ${round}`);
}

/** What was found in those learned from, the mean of the parts; nothing where it was not looked for. */
function meanOf(
  pieces: { trials: number[]; development: (Record<string, number> | null)[] | null }[],
  number: number,
): Record<string, number> | null {
  const each = pieces.flatMap(({ trials, development }) => {
    const place = development ? trials.indexOf(number) : -1;
    const own = place >= 0 ? development![place] : null;
    return own ? [own] : [];
  });
  if (each.length === 0) return null;
  return Object.fromEntries(
    Object.keys(each[0]).map((id) => [
      id,
      each.reduce((sum, one) => sum + one[id], 0) / each.length,
    ]),
  );
}

/** Keeps which of the settings judged in a round is the best, as part of the change at hand. */
export async function tellBest(row: SearchRow, round: number, ground: SearchGround): Promise<void> {
  const trials = await trialsOf(row.id);
  const measure = measureFor(ground.outcome.kind, row.plan.measure);
  const choice = chooseTried(
    trials.map(({ settings, figures, judgedRound }) => ({
      settings,
      figure: judgedRound === round ? figures?.[measure.id] : undefined,
    })),
    measure,
    fieldsTried(familyOf(row.family).description, row.plan),
  );
  const best = choice && trials[choice.best];
  await db()
    .update(search)
    .set({
      judgedBy: ground.judgedBy,
      ...(best && { best: { settings: best.settings, ...best.figures![measure.id] } }),
    })
    .where(and(eq(search.id, row.id), eq(search.run, row.run)));
}

/** Whether any piece of a round is not fitted yet. */
export async function isUnfinished(searchId: string, round: number): Promise<boolean> {
  const [found] = await db()
    .select({ number: searchPiece.number })
    .from(searchPiece)
    .where(
      and(
        eq(searchPiece.searchId, searchId),
        eq(searchPiece.round, round),
        sql`${searchPiece.doneAt} is null`,
      ),
    )
    .limit(1);
  return found !== undefined;
}

/** Forgets the predictions of rounds that are over. */
export const forgetRounds = (searchId: string, before: number) =>
  db()
    .update(searchPiece)
    .set({ values: null })
    .where(and(eq(searchPiece.searchId, searchId), lt(searchPiece.round, before)));
