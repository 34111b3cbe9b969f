import { fileURLToPath } from 'node:url';
import { drizzle } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';

/** Any number, the same in every process: only one of them migrates at a time. */
const lockNumber = 7_265_811;

/** Brings the database to the schema of this version. Safe to run from several processes at once. */
export async function migrateDatabase(url: string, folder = defaultFolder()): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    await client.query('select pg_advisory_lock($1)', [lockNumber]);
    await migrate(drizzle(client), { migrationsFolder: folder });
  } finally {
    await client.end();
  }
}

function defaultFolder(): string {
  return (
    process.env.MIGRATIONS_FOLDER ?? fileURLToPath(new URL('../../../migrations', import.meta.url))
  );
}
