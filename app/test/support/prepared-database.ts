import { readFileSync } from 'node:fs';
import pg from 'pg';
import { startProduct } from '../../../scripts/product.mjs';

/** Key of the advisory lock: one process makes the database, others wait for it. */
const lock = 20_417;

/**
 * The name of a template database with schema and demo study. The first caller makes it; it is kept until the product
 * is built again.
 *
 * @param cluster address of a database of the cluster
 */
export async function preparedDatabase(cluster: string): Promise<string> {
  const client = new pg.Client({ connectionString: cluster });
  await client.connect();
  try {
    await client.query('select pg_advisory_lock($1)', [lock]);
    const name = `prepared_${builtAt()}`;
    const { rows } = await client.query<{ datname: string }>(
      "select datname from pg_database where datname like 'prepared_%'",
    );
    if (rows.some(({ datname }) => datname === name)) return name;
    for (const { datname } of rows) await client.query(`drop database ${datname} with (force)`);
    // Renamed once it is complete: an interrupted one is never used.
    await client.query('create database prepared_in_part');
    const url = new URL(cluster);
    url.pathname = '/prepared_in_part';
    await (await startProduct({ databaseUrl: url.href, web: false, workers: 0 })).stop();
    await client.query(`alter database prepared_in_part rename to ${name}`);
    return name;
  } finally {
    await client.end();
  }
}

function builtAt(): string {
  const stamp = new URL('../../dist/built', import.meta.url);
  return readFileSync(stamp, 'utf8').replace(/\D/g, '');
}
