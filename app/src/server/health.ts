import { sql } from 'drizzle-orm';
import { db } from './ground/database/index.ts';
import { workersAtHand } from './queue-view.ts';

export interface Health {
  ready: boolean;
  database: 'answers' | 'away';
  /** Worker processes seen within the last seconds. */
  workers: number;
}

/** Milliseconds that the database may take; a connection that hangs is as good as none. */
const patience = 2000;

export async function health(): Promise<Health> {
  try {
    await Promise.race([
      db().execute(sql`select 1`),
      new Promise((_, reject) => setTimeout(() => reject(new Error('too late')), patience).unref()),
    ]);
    const workers = await workersAtHand();
    return { ready: workers > 0, database: 'answers', workers };
  } catch {
    return { ready: false, database: 'away', workers: 0 };
  }
}
