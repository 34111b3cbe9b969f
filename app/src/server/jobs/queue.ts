import PgBoss from 'pg-boss';
import type { SurveyRequest } from '../../contract/surveys.ts';
import { logError } from '../ground/log.ts';
import { callOutWanted } from './announce.ts';
import { changeAtHand, databaseUrl } from '../ground/database/index.ts';

/** A job of this queue is "fit this candidate". */
export const fitQueue = 'fit';
/** A job of this queue is "work out this part of a study's survey". */
export const surveyQueue = 'survey';

export interface SurveyJob {
  studyId: string;
  request: SurveyRequest;
}

export interface FitJob {
  candidateId: string;
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

/** Asks any worker to fit this candidate. Asking twice is harmless: a worker claims it first. */
export async function requestFit(candidateId: string): Promise<void> {
  const boss = await queue();
  await boss.send(fitQueue, { candidateId } satisfies FitJob, {
    // A healthy long fit must never be started a second time: the heartbeat finds dead ones.
    expireInHours: 23,
    retryLimit: 0,
    ...partOfChange(),
  });
  await callOutWanted(fitQueue);
}

/** Asks any worker for a part of the survey; several requests for the same one become one. */
export async function requestSurvey(studyId: string, request: SurveyRequest): Promise<void> {
  const boss = await queue();
  await boss.send(surveyQueue, { studyId, request } satisfies SurveyJob, {
    singletonKey: `${studyId} ${JSON.stringify(request)}`,
    expireInMinutes: 10,
    retryLimit: 3,
    retryDelay: 5,
    ...partOfChange(),
  });
  await callOutWanted(surveyQueue);
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
  await boss.createQueue(fitQueue);
  await boss.createQueue(surveyQueue, { name: surveyQueue, policy: 'short' });
}

async function start(): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: databaseUrl(), max: 3 });
  boss.on('error', (error) => logError('queue', error));
  await boss.start();
  return boss;
}
