import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import pg from 'pg';
import type { Overview } from '../../src/contract/studies.ts';
import { Client } from '../support/client.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';

let product: FreshProduct;
let client: Client;
let database: pg.Client;
beforeAll(async () => {
  product = await freshProduct({ demo: false });
  client = new Client(product.address);
  database = new pg.Client({ connectionString: product.databaseUrl });
  await database.connect();
});
afterAll(async () => {
  await database.end();
  await product.stop();
});

/** Hears a study as a page does: `next` resolves with the next word of a change. */
async function hear(study: string) {
  const stop = new AbortController();
  const stream = await fetch(`${product.address}/api/studies/${study}/events`, {
    signal: stop.signal,
  });
  const reader = stream.body!.pipeThrough(new TextDecoderStream()).getReader();
  let heard = 0;
  let wake = () => {};
  void (async () => {
    for (;;) {
      const { value = '', done } = await reader.read();
      if (done) return;
      heard += value.split('event: changed').length - 1;
      wake();
    }
  })().catch(() => undefined);
  let taken = 0;
  return {
    async next() {
      while (taken >= heard) await new Promise<void>((resolve) => (wake = resolve));
      taken = heard;
    },
    stop: () => stop.abort(),
  };
}

/** The connections on which processes of the product wait for words of the database. */
async function listening(): Promise<number[]> {
  const { rows } = await database.query<{ pid: number }>(
    `select pid from pg_stat_activity where datname = current_database() and query ilike 'listen%'`,
  );
  return rows.map(({ pid }) => pid);
}

const soon = (work: Promise<void>) =>
  Promise.race([
    work.then(() => true),
    new Promise<false>((resolve) => setTimeout(() => resolve(false), 400)),
  ]);

describe('a page that hears of a change', () => {
  // As a change comes through another web server: this one knows of it by the database alone.
  it('is never given what was there before, whichever connection is late', async () => {
    const study = await client.newStudy('Heard');
    const ear = await hear(study);
    await ear.next();
    const read = () => client.get<Overview>(`/api/studies/${study}`);
    await read();
    const connections = await listening();
    expect(connections.length).toBeGreaterThan(0);
    for (const late of connections) {
      // Something is remembered, and one connection held up.
      await read();
      process.kill(late, 'SIGSTOP');
      const name = `Heard while ${late} is late`;
      try {
        await database.query('update study set name = $2 where id = $1', [study, name]);
        await database.query(`select pg_notify('study_changed', $1)`, [study]);
        if (await soon(ear.next())) expect((await read()).study.name).toBe(name);
      } finally {
        process.kill(late, 'SIGCONT');
      }
      await expect.poll(async () => (await read()).study.name).toBe(name);
    }
    ear.stop();
  });
});
