import { sql } from 'drizzle-orm';
import { afterwards, db } from '../ground/database/index.ts';

/** The channel on which every process says that something of a study has changed. */
export const changedChannel = 'study_changed';
/** The channel on which it is said that the database is another one now, restored from a backup. */
export const restoredChannel = 'database_restored';

/** The channel on which a job that is called off is named to the workers. */
export const calledOffChannel = 'job_called_off';

const before: (() => void)[] = [];

/** Calls `hear` in this process with every change, before whoever made it is answered. */
export function beforeAnnounced(hear: () => void): void {
  before.push(hear);
}

/** Tells every open page of this study to fetch anew. */
export async function announce(studyId: string): Promise<void> {
  afterwards(() => before.forEach((hear) => hear()));
  await db().execute(sql`select pg_notify(${changedChannel}, ${studyId})`);
}

/** The channel on which workers are told in which queue a job waits, so that none waits for its next look. */
export const wantedChannel = 'job_wanted';

export async function callOutWanted(queue: string): Promise<void> {
  await db().execute(sql`select pg_notify(${wantedChannel}, ${queue})`);
}

/** Tells whichever worker is at this job to stop. */
export async function callOff(id: string): Promise<void> {
  await db().execute(sql`select pg_notify(${calledOffChannel}, ${id})`);
}
