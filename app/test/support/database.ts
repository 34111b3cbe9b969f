import pg from 'pg';

/** Carries a statement out on a test's database, past the product. */
export async function onDatabase(url: string, statement: string): Promise<void> {
  await rowsOf(url, statement);
}

/** What a statement gives on a test's database, past the product. */
export async function rowsOf<Row extends pg.QueryResultRow>(
  url: string,
  statement: string,
): Promise<Row[]> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    return (await client.query<Row>(statement)).rows;
  } finally {
    await client.end();
  }
}
