import PgBoss from 'pg-boss';
import { logError } from '../log.ts';
import { callOutWanted } from './announce.ts';
import { databaseUrl } from '../database/index.ts';
import type { SurveyRequest } from '../surveys/index.ts';

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
  });
}

/** Asks any worker for a part of the survey; several requests for the same one become one. */
export async function requestSurvey(studyId: string, request: SurveyRequest): Promise<void> {
  const boss = await queue();
  await boss.send(surveyQueue, { studyId, request } satisfies SurveyJob, {
    singletonKey: `${studyId} ${JSON.stringify(request)}`,
    expireInMinutes: 10,
    retryLimit: 3,
    retryDelay: 5,
  });
  await callOutWanted();
}

async function start(): Promise<PgBoss> {
  const boss = new PgBoss({ connectionString: databaseUrl(), max: 3 });
  boss.on('error', (error) => logError('queue', error));
  await boss.start();
  await boss.createQueue(fitQueue);
  await boss.createQueue(surveyQueue, { name: surveyQueue, policy: 'short' });
  return boss;
}
