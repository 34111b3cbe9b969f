import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import { logError } from '../log.ts';
import * as schema from './schema.ts';

export type Database = NodePgDatabase<typeof schema>;

let pool: pg.Pool | undefined;
let database: Database | undefined;

/** The address of the database; every process of the product has it from its environment. */
export function databaseUrl(): string {
  const url = process.env.DATABASE_URL;
  if (!url) throw new Error('DATABASE_URL is not set. Start the product with npm start.');
  return url;
}

/** The connection pool of this process. */
export function connectionPool(): pg.Pool {
  if (!pool) {
    pool = new pg.Pool({ connectionString: databaseUrl(), max: 10, allowExitOnIdle: true });
    // An idle connection that breaks must not end the process; the next query opens a new one.
    pool.on('error', (error) => logError('database connection lost', error));
  }
  return pool;
}

export function db(): Database {
  database ??= drizzle(connectionPool(), { schema, casing: 'snake_case' });
  return database;
}

export async function closeDatabase(): Promise<void> {
  await pool?.end();
  pool = undefined;
  database = undefined;
}
