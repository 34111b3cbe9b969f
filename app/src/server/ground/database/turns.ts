import { AsyncLocalStorage } from 'node:async_hooks';
import pg from 'pg';
import { Problem } from '../problem.ts';
import { beforeCommit, bearing, databaseUrl } from './client.ts';

/** A turn, and whether the connection that holds its lock still stands. */
interface Turn {
  isLost: boolean;
}

/** Studies whose turn the work at hand has. */
const held = new AsyncLocalStorage<ReadonlyMap<string, Turn>>();
const turns = new Map<string, Promise<unknown>>();
let pool: pg.Pool | undefined;

/**
 * Does the work on a study after all work on it that was asked for earlier, failed or not, in
 * whatever process on this database. A process that dies gives its turn up with its connection; work
 * that lost its connection, and with it the turn, brings no change into force any more.
 */
export async function inTurn<T>(studyId: string, work: () => Promise<T>): Promise<T> {
  const own = held.getStore() ?? new Map<string, Turn>();
  // Work inside of work has the turn already.
  if (own.has(studyId)) return work();
  const before = turns.get(studyId) ?? Promise.resolve();
  const locked = () =>
    withLock(studyId, (turn) => held.run(new Map([...own, [studyId, turn]]), work));
  const mine = before.then(locked, locked);
  turns.set(studyId, mine);
  try {
    return await mine;
  } finally {
    if (turns.get(studyId) === mine) turns.delete(studyId);
  }
}

beforeCommit(() => {
  for (const { isLost } of held.getStore()?.values() ?? [])
    if (isLost)
      throw new Problem(
        503,
        'database-away',
        'The connection to the database was lost. Nothing was changed; try again in a moment.',
      );
});

async function withLock<T>(studyId: string, work: (turn: Turn) => Promise<T>): Promise<T> {
  const client = await lockPool().connect();
  const turn: Turn = { isLost: false };
  const lose = () => (turn.isLost = true);
  client.once('error', lose).once('end', lose);
  let unlocked = false;
  try {
    await lock(client, studyId);
    return await work(turn);
  } finally {
    client.off('error', lose).off('end', lose);
    unlocked = await client.query(`select pg_advisory_unlock(${key})`, [studyId]).then(
      () => true,
      () => false,
    );
    client.release(!unlocked);
  }
}

async function lock(client: pg.PoolClient, studyId: string): Promise<void> {
  try {
    await client.query(`select pg_advisory_lock(${key})`, [studyId]);
  } catch (error) {
    if ((error as { code?: string }).code !== lockTimeout) throw error;
    throw new Problem(
      503,
      'study-busy',
      'Another change of this study has been under way for two minutes. Nothing was changed; try again.',
    );
  }
}

const key = 'hashtextextended($1, 0)';
const lockTimeout = '55P03';

/**
 * Connections of their own: whoever waits for a turn must not hold what the one at work needs. There
 * are few, so that several processes have room in the database.
 */
function lockPool(): pg.Pool {
  if (!pool) {
    pool = bearing(
      new pg.Pool({
        connectionString: databaseUrl(),
        max: 5,
        allowExitOnIdle: true,
        options: '-c lock_timeout=120s',
      }),
    );
  }
  return pool;
}
