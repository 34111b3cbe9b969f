import pg from 'pg';

/** Carries a statement out on a test's database, past the product. */
export async function onDatabase(url: string, statement: string): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query(statement);
  await client.end();
}
