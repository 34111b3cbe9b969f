// npm run restore -- FILE: the database as a backup has it, in place of what is there now.
import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { existsSync, readFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { ensurePackages, root } from './packages.mjs';
import { databaseAtHand, postgresProgram, withPassword } from './tools.mjs';

/** What belongs to the product; the schema public itself is the database's. */
const clear = `
drop schema if exists pgboss cascade;
drop schema if exists drizzle cascade;
do $$
declare
  one record;
begin
  for one in select oid::regclass as thing from pg_class
    where relnamespace = 'public'::regnamespace and relkind in ('r', 'p') loop
    execute format('drop table if exists %s cascade', one.thing);
  end loop;
  for one in select oid::regprocedure as thing from pg_proc
    where pronamespace = 'public'::regnamespace loop
    execute format('drop routine if exists %s cascade', one.thing);
  end loop;
end $$;
`;

try {
  const [given, ...more] = process.argv.slice(2);
  if (!given || more.length > 0) throw new Error('Say from where: npm run restore -- FILE');
  const file = resolve(given);
  if (!existsSync(file)) throw new Error(`There is no file ${given}. Nothing was changed.`);
  ensurePackages();
  refuseNewer(file);
  const database = await databaseAtHand();
  try {
    await replace(file, database);
    await callOut(database.url);
  } finally {
    database.stop();
  }
  console.log(
    'The database is as the backup has it. A running product starts again by itself, another with npm start.',
  );
} catch (error) {
  console.error(error.message);
  process.exit(1);
}

/** A backup of a later version holds what this one does not know. */
function refuseNewer(file) {
  const read = spawnSync(
    postgresProgram('pg_restore'),
    ['--data-only', '--schema=drizzle', '--table=__drizzle_migrations', '--file=-', file],
    { encoding: 'utf8' },
  );
  const made = [...(read.stdout ?? '').matchAll(/^\d+\t[0-9a-f]+\t(\d+)$/gm)].map(([, at]) =>
    Number(at),
  );
  if (read.status !== 0 || made.length === 0)
    throw new Error('That is no backup of Rook Scale, or it is cut short. Nothing was changed.');
  const journal = JSON.parse(readFileSync(join(root, 'app/migrations/meta/_journal.json'), 'utf8'));
  const known = Math.max(...journal.entries.map(({ when }) => when));
  if (Math.max(...made) > known)
    throw new Error(
      'The backup was made by a later version of Rook Scale than this one. Nothing was changed; install that version and restore with it.',
    );
}

/** In one transaction: either all of the backup is in force, or what was there before. */
async function replace(file, database) {
  const into = spawn(
    postgresProgram('psql'),
    ['--quiet', '--no-psqlrc', '--single-transaction', '-v', 'ON_ERROR_STOP=1', database.plainUrl],
    { stdio: ['pipe', 'ignore', 'pipe'], env: withPassword(database) },
  );
  let problem = '';
  into.stderr.on('data', (piece) => (problem += piece));
  into.stdin.on('error', () => undefined);
  const ended = once(into, 'close');
  into.stdin.write(clear);
  const from = spawn(
    postgresProgram('pg_restore'),
    ['--no-owner', '--no-privileges', '--file=-', file],
    { stdio: ['ignore', 'pipe', 'pipe'] },
  );
  from.stderr.on('data', (piece) => (problem += piece));
  // Not its exit: what it wrote last may still be on its way, and would be cut off without a word.
  const read = once(from, 'close');
  from.stdout.pipe(into.stdin, { end: false });
  const [readCode] = await read;
  // What is not whole is taken back with all that came before it: a connection that breaks commits nothing.
  if (readCode === 0) into.stdin.end();
  else into.kill();
  const [code] = await ended;
  if (code !== 0)
    throw new Error(`The backup could not be restored, and nothing was changed. ${problem}`);
}

/** Whoever runs on this database remembers things of before: it ends, and is started again. */
async function callOut(url) {
  const { default: pg } = await import('pg');
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query("select pg_notify('database_restored', 'now')");
  await client.end();
}
