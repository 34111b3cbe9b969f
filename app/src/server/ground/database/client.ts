import { AsyncLocalStorage } from 'node:async_hooks';
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import { readJson } from '@rook-scale/core/stored';
import { logError } from '../log.ts';
import * as schema from './schema.ts';

export type Database = NodePgDatabase<typeof schema>;

pg.types.setTypeParser(pg.types.builtins.JSON, readJson);
pg.types.setTypeParser(pg.types.builtins.JSONB, readJson);

let pool: pg.Pool | undefined;
let database: Database | undefined;

/** The change that the code at hand is part of. */
const underWay = new AsyncLocalStorage<{
  client: pg.PoolClient;
  database: Database;
  afterwards: (() => void)[];
}>();

/** The address of the database; every process of the product has it from its environment. */
export function databaseUrl(): string {
  const url = process.env.DATABASE_URL;
  if (!url) throw new Error('DATABASE_URL is not set. Start the product with npm start.');
  return url;
}

/** The connection pool of this process. */
export function connectionPool(): pg.Pool {
  if (!pool) {
    pool = bearing(
      new pg.Pool({ connectionString: databaseUrl(), max: 10, allowExitOnIdle: true }),
    );
  }
  return pool;
}

/**
 * A pool whose connections may break without ending the process, idle or in use: between two queries of a change
 * nobody else listens. The next query on a broken connection fails; the pool opens a new one.
 */
export function bearing(connections: pg.Pool): pg.Pool {
  const told = new WeakSet<object>();
  // A connection says more than once that it is lost.
  const lost = (client: object, error: Error) => {
    if (!told.has(client)) logError('database connection lost', error);
    told.add(client);
  };
  connections.on('error', (error, client) => lost(client, error));
  connections.on('connect', (client) => {
    client.on('error', (error) => lost(client, error));
  });
  return connections;
}

/** What has to hold still when a change is to come into force; throws where it does not. */
const entitlements: (() => void)[] = [];

export function beforeCommit(check: () => void): void {
  entitlements.push(check);
}

/** The database; inside of `atOnce`, as its change sees it. */
export function db(): Database {
  const change = underWay.getStore();
  if (change) return change.database;
  database ??= over(connectionPool());
  return database;
}

/**
 * Carries out all of it or nothing: whatever the work does through `db` is one transaction, also in
 * functions that it calls. Work inside of work belongs to the same change. Heavy things are done
 * before; nothing may be read by `copyRows` inside.
 */
export async function atOnce<T>(work: () => Promise<T>): Promise<T> {
  if (underWay.getStore()) return work();
  for (let tries = 1; ; tries++)
    try {
      return await onceAtOnce(work);
    } catch (error) {
      // Of two changes that wait for each other the database ends one: nothing of it was done.
      if (!isDeadlock(error) || tries === 3) throw error;
    }
}

/** Whether it is, or was caused by, deadlock_detected of PostgreSQL's table of error codes. */
function isDeadlock(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  return (error as { code?: string }).code === '40P01' || isDeadlock(error.cause);
}

async function onceAtOnce<T>(work: () => Promise<T>): Promise<T> {
  const taken = await connectionPool().connect();
  const client = oneAtATime(taken);
  const afterwards: (() => void)[] = [];
  let broken = false;
  try {
    await client.query('begin');
    const result = await underWay.run({ client, database: over(client), afterwards }, work);
    for (const check of entitlements) check();
    await client.query('commit');
    for (const then of afterwards) then();
    return result;
  } catch (error) {
    await client.query('rollback').catch(() => {
      broken = true;
    });
    throw error;
  } finally {
    taken.release(broken);
  }
}

/** The connection, on which a query waits for those before it: work may ask several things side by side. */
function oneAtATime(client: pg.PoolClient): pg.PoolClient {
  let last: Promise<unknown> = Promise.resolve();
  const query = (...asked: Parameters<typeof client.query>) => {
    const answer = last.then(() => client.query(...asked));
    last = answer.catch(() => undefined);
    return answer;
  };
  return Object.create(client, { query: { value: query } }) as pg.PoolClient;
}

/** Does it once the change at hand is in force, and not at all if it fails; at once outside of one. */
export function afterwards(then: () => void): void {
  const change = underWay.getStore();
  if (change) change.afterwards.push(then);
  else then();
}

/** The connection of the change at hand, for packages with statements of their own. */
export function changeAtHand(): pg.PoolClient | undefined {
  return underWay.getStore()?.client;
}

export async function closeDatabase(): Promise<void> {
  await pool?.end();
  pool = undefined;
  database = undefined;
}

const over = (connection: pg.Pool | pg.PoolClient): Database =>
  drizzle(connection, { schema, casing: 'snake_case' });
