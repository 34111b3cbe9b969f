// The role that the product comes in with: it owns one database and nothing else.
import { randomBytes } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import pg from 'pg';

const name = 'rook_scale';

/** Makes role and database where they are not there yet; gives the address for the product. */
export async function ensureApplication(ownerUrl, secretFile) {
  if (!existsSync(secretFile))
    writeFileSync(secretFile, randomBytes(18).toString('base64url'), { mode: 0o600 });
  const password = readFileSync(secretFile, 'utf8');
  await asOwner(ownerUrl, 'template1', async (client) => {
    const { rows } = await client.query('select from pg_roles where rolname = $1', [name]);
    if (rows.length === 0) await client.query(`create role ${name} login`);
    await client.query(
      `alter role ${name} nosuperuser nocreatedb nocreaterole noreplication
        password ${client.escapeLiteral(password)}`,
    );
    await ensureDatabase(client, ownerUrl);
  });
  const url = new URL(ownerUrl);
  url.username = name;
  url.password = password;
  url.pathname = `/${name}`;
  return url.href;
}

/**
 * Every step is done only where it is still to be done: a start that was interrupted at any of them is finished by the
 * next one. An older version kept its tables in the database of the cluster's owner: that one is handed over.
 */
async function ensureDatabase(client, ownerUrl) {
  const { rows } = await client.query('select datname from pg_database');
  const has = (wanted) => rows.some(({ datname }) => datname === wanted);
  if (!has(name)) {
    if (has('postgres') && (await hasStudies(ownerUrl)))
      await client.query(`alter database postgres rename to ${name}`);
    else await client.query(`create database ${name} owner ${name} encoding 'UTF8'`);
  }
  const { rows: left } = await client.query("select from pg_database where datname = 'postgres'");
  if (left.length === 0) await client.query('create database postgres');
  await client.query(`alter database ${name} owner to ${name}`);
  await asOwner(ownerUrl, name, (own) => own.query(handOver));
  await client.query(`revoke connect, temporary on database ${name} from public`);
  await client.query('revoke connect on database postgres from public');
}

const hasStudies = (ownerUrl) =>
  asOwner(ownerUrl, 'postgres', async (old) => {
    const { rows } = await old.query("select to_regclass('public.study') as study");
    return rows[0].study !== null;
  });

/** Schemas, tables, routines and types change hands; sequences of a column go with their table. */
const handOver = `
do $$
declare
  place text[] := array['public', 'drizzle', 'pgboss'];
  one record;
begin
  for one in
    select nspname from pg_namespace
    where nspname = any(place) and nspname <> 'public' and nspowner <> '${name}'::regrole
  loop
    execute format('alter schema %I owner to ${name}', one.nspname);
  end loop;
  for one in
    select c.oid::regclass as thing from pg_class c join pg_namespace n on n.oid = relnamespace
    where nspname = any(place) and relkind in ('r', 'p', 'v') and relowner <> '${name}'::regrole
  loop
    execute format('alter table %s owner to ${name}', one.thing);
  end loop;
  for one in
    select p.oid::regprocedure as thing from pg_proc p join pg_namespace n on n.oid = pronamespace
    where nspname = any(place) and proowner <> '${name}'::regrole
  loop
    execute format('alter routine %s owner to ${name}', one.thing);
  end loop;
  for one in
    select t.oid::regtype as thing from pg_type t join pg_namespace n on n.oid = typnamespace
    where nspname = any(place) and typtype = 'e' and typowner <> '${name}'::regrole
  loop
    execute format('alter type %s owner to ${name}', one.thing);
  end loop;
end $$`;

async function asOwner(ownerUrl, database, work) {
  const url = new URL(ownerUrl);
  url.pathname = `/${database}`;
  const client = new pg.Client({ connectionString: url.href });
  await client.connect();
  try {
    return await work(client);
  } finally {
    await client.end();
  }
}
