import { eq, sql } from 'drizzle-orm';
import PgBoss from 'pg-boss';
import type { SurveyRequest } from '../../contract/surveys.ts';
import { logError } from '../ground/log.ts';
import { callOutWanted } from './announce.ts';
import { changeAtHand, databaseUrl, db, tables } from '../ground/database/index.ts';

/** What there is to do, by kind of job; the kind is the name of its queue too. */
export interface JobData {
  /** Fit this candidate. */
  fit: { candidateId: string };
  /** The same where it is soon done, and need not wait for the long ones. */
  'short fit': { candidateId: string };
  /** Work at this search; several workers may. */
  search: { searchId: string };
  /** Work out what predictors are worth to this candidate. */
  reasons: { candidateId: string };
  /** Write the file of a list. */
  'list file': { fileId: string };
  /** Work out this part of a study's survey. */
  survey: { studyId: string; request: SurveyRequest };
}

/** How each kind is queued: the policy of its queue, and what holds for each job. */
const kinds: {
  [Kind in keyof JobData]: {
    policy?: 'short';
    options: (data: JobData[Kind]) => PgBoss.SendOptions;
  };
} = {
  fit: { policy: 'short', options: fitOptions },
  'short fit': { policy: 'short', options: fitOptions },
  search: {
    // Of one that waits there is one job, however many workers have asked to share it.
    policy: 'short',
    options: ({ searchId }) => ({ singletonKey: searchId, expireInHours: 23, retryLimit: 0 }),
  },
  reasons: {
    // Asked for anew meanwhile, it is gone through once more.
    policy: 'short',
    options: ({ candidateId }) => ({
      singletonKey: candidateId,
      expireInHours: 23,
      retryLimit: 0,
    }),
  },
  'list file': {
    policy: 'short',
    options: ({ fileId }) => ({ singletonKey: fileId, expireInHours: 23, retryLimit: 0 }),
  },
  survey: {
    // Several requests for the same part become one.
    policy: 'short',
    options: ({ studyId, request }) => ({
      singletonKey: `${studyId} ${JSON.stringify(request)}`,
      expireInMinutes: 10,
      retryLimit: 3,
      retryDelay: 5,
    }),
  },
};

/**
 * Of a fit that waits there is one job, however often it was asked for. A healthy long fit must never be started a
 * second time: the heartbeat finds dead ones.
 */
function fitOptions({ candidateId }: JobData['fit']): PgBoss.SendOptions {
  return { singletonKey: candidateId, expireInHours: 23, retryLimit: 0 };
}

let starting: Promise<PgBoss> | undefined;

/** The queue of this process, started at first use. */
export function queue(): Promise<PgBoss> {
  starting ??= start().catch((error: unknown) => {
    starting = undefined;
    throw error;
  });
  return starting;
}

export async function stopQueue(): Promise<void> {
  const boss = await starting;
  starting = undefined;
  await boss?.stop({ graceful: false, wait: true });
}

/**
 * Asks any worker to fit this candidate. Asking twice is harmless: a worker claims it first. Short fits have a lane
 * for themselves. In each lane the shorter pass the longer, which come to their turn all the same: a fit is placed
 * behind all that is asked for within ten times its length.
 */
export async function requestFit(candidateId: string): Promise<void> {
  const cells = await cellsOfFit(candidateId);
  const kind = cells <= shortUpTo ? 'short fit' : 'fit';
  await request(kind, { candidateId }, { priority: fitPriority(cells) });
}

/** Cells that a second of fitting is taken to work on; an hour behind is the most. */
const cellsASecond = 50_000;
const mostBehind = 3600;
/** Cells up to which a fit is short: the demo study has 60,000. */
const shortUpTo = 150_000;
const epoch = Date.UTC(2026, 0, 1);

/** Greater for what comes first: seconds of the clock at which it would come, counted down. */
function fitPriority(cells: number): number {
  const behind = Math.min(mostBehind, (10 * cells) / cellsASecond);
  return -Math.round((Date.now() - epoch) / 1000 + behind);
}

/** How many cells a fit of this candidate works on: patients times predictors. */
export async function cellsOfFit(candidateId: string): Promise<number> {
  const { candidate, cohort, design } = tables;
  const [found] = await db()
    .select({ patients: cohort.rowCount, choices: design.choices })
    .from(candidate)
    .innerJoin(design, eq(design.id, candidate.designId))
    .innerJoin(cohort, eq(cohort.id, design.cohortId))
    .where(eq(candidate.id, candidateId));
  return found ? found.patients * Math.max(1, found.choices.predictors.length) : 0;
}

/** In SQL: a fit that waits, whichever its lane. */
const waitingFit = sql`name in ('fit', 'short fit') and state = 'created'`;

/** Candidates whose fits wait, in the order in which workers take them. */
export async function fitsInOrder(): Promise<string[]> {
  const { rows } = await db().execute<{ candidate: string }>(sql`
    select singleton_key as candidate from pgboss.job
    where ${waitingFit} and singleton_key is not null
    order by priority desc, created_on, id`);
  return rows.map(({ candidate }) => candidate);
}

/** Puts a fit that waits before all others; false where it does not wait. */
export async function fitNext(candidateId: string): Promise<boolean> {
  const { rows } = await db().execute(sql`
    update pgboss.job set priority = 1 + (
      select max(priority) from pgboss.job where ${waitingFit}
    )
    where ${waitingFit} and singleton_key = ${candidateId} returning id`);
  return rows.length > 0;
}

/** Asks a worker for a part in a search. One that finds nothing to do any more goes on to the next job. */
export const requestSearch = (searchId: string) => request('search', { searchId });

/** Asks any worker what predictors are worth to this candidate. */
export const requestReasons = (candidateId: string) => request('reasons', { candidateId });

/** Asks any worker to write this file. */
export const requestListFile = (fileId: string) => request('list file', { fileId });

/** Asks any worker for a part of the survey. */
export const requestSurvey = (studyId: string, wanted: SurveyRequest) =>
  request('survey', { studyId, request: wanted });

async function request<Kind extends keyof JobData>(
  kind: Kind,
  data: JobData[Kind],
  more: { priority?: number } = {},
): Promise<void> {
  const boss = await queue();
  await boss.send(kind, data, { ...kinds[kind].options(data), ...more, ...partOfChange() });
  await callOutWanted(kind);
}

/** A job asked for by a change is there when the change is in force, and not before. */
function partOfChange(): { db?: PgBoss.Db } {
  const client = changeAtHand();
  if (!client) return {};
  return { db: { executeSql: (text, values) => client.query(text, values) } };
}

/**
 * Makes the queues, before any process uses them: two that made the same one at the same moment
 * would lock each other out.
 */
export async function createQueues(): Promise<void> {
  const boss = await queue();
  for (const [name, { policy }] of Object.entries(kinds)) {
    const options = { name, ...(policy && { policy }) };
    await boss.createQueue(name, options);
    // Made by an earlier version, it may have another policy.
    await boss.updateQueue(name, options);
  }
}

async function start(): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: databaseUrl(), max: 3 });
  boss.on('error', (error) => logError('queue', error));
  await boss.start();
  return boss;
}
