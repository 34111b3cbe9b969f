import { sql } from 'drizzle-orm';
import { db } from '../database/index.ts';

/** The channel on which every process says that something of a study has changed. */
export const changedChannel = 'study_changed';
/** The channel on which a cancelled candidate is called out to the workers. */
export const cancelChannel = 'fit_cancelled';

const before: (() => void)[] = [];

/** Calls `hear` in this process with every change, before anyone else is told of it. */
export function beforeAnnounced(hear: () => void): void {
  before.push(hear);
}

/** Tells every open page of this study to fetch anew. */
export async function announce(studyId: string): Promise<void> {
  for (const hear of before) hear();
  await db().execute(sql`select pg_notify(${changedChannel}, ${studyId})`);
}

/** The channel on which workers are told that a part of a survey is wanted, so that none waits for its next look. */
export const wantedChannel = 'survey_wanted';

export async function callOutWanted(): Promise<void> {
  await db().execute(sql`select pg_notify(${wantedChannel}, '')`);
}

export async function callOutCancel(candidateId: string): Promise<void> {
  await db().execute(sql`select pg_notify(${cancelChannel}, ${candidateId})`);
}
