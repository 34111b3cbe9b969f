import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import pg from 'pg';
import type { Overview } from '../../src/contract/studies.ts';
import { Client } from '../support/client.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';
import { pace } from '../support/pace.ts';

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

const pause = (milliseconds: number) =>
  new Promise<void>((resolve) => setTimeout(resolve, milliseconds));

/** Hears a study as a page does. */
async function hear(study: string) {
  const stop = new AbortController();
  const stream = await fetch(`${product.address}/api/studies/${study}/events`, {
    signal: stop.signal,
  });
  const reader = stream.body!.pipeThrough(new TextDecoderStream()).getReader();
  let heard = 0;
  void (async () => {
    for (;;) {
      const { value = '', done } = await reader.read();
      if (done) return;
      heard += value.split('event: changed').length - 1;
    }
  })().catch(() => undefined);
  return {
    /** Waits until nothing more is said: what comes after belongs to what is done after. */
    async quiet() {
      for (let before = -1; before !== heard;) {
        before = heard;
        await pause(500);
      }
    },
    /** Whether something is said within this time. */
    async within(milliseconds: number): Promise<boolean> {
      const before = heard;
      for (const end = Date.now() + milliseconds; Date.now() < end && heard === before;)
        await pause(1);
      return heard !== before;
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

describe('a page that hears of a change', () => {
  // As a change comes through another web server: this one knows of it by the database alone.
  it('is never given what was there before, whichever connection is late', async () => {
    const study = await client.newStudy('Heard');
    const ear = await hear(study);
    const read = () => client.get<Overview>(`/api/studies/${study}`);
    const connections = await listening();
    expect(connections.length).toBeGreaterThan(0);
    for (const late of connections) {
      // Something is remembered, and one connection held up.
      await ear.quiet();
      await read();
      process.kill(late, 'SIGSTOP');
      const name = `Heard while ${late} is late`;
      try {
        await database.query('update study set name = $2 where id = $1', [study, name]);
        const told = ear.within(400);
        await database.query(`select pg_notify('study_changed', $1)`, [study]);
        if (await told) expect((await read()).study.name).toBe(name);
      } finally {
        process.kill(late, 'SIGCONT');
      }
      await expect.poll(async () => (await read()).study.name).toBe(name);
    }
    ear.stop();
  });
});

describe('a process that hears of many things', () => {
  // Side by side on one connection is not allowed for long any more.
  it('asks for them one after the other', () => {
    const listening = new URL('../../src/server/jobs/listen.ts', import.meta.url);
    const program = `
      import { listen } from ${JSON.stringify(listening.href)};
      const pause = (time) => new Promise((resolve) => setTimeout(resolve, time));
      const heard = new Set();
      listen('first', () => heard.add('first'));
      while (heard.size === 0) await pause(5);
      for (let i = 0; i < 10; i++) listen('channel ' + i, () => heard.add(i));
      while (heard.size < 11) await pause(5);
      process.exit(0);`;
    const { status, stderr } = spawnSync(
      process.execPath,
      ['--import', 'tsx', '--input-type=module', '--eval', program],
      {
        cwd: fileURLToPath(new URL('../..', import.meta.url)),
        env: { ...process.env, DATABASE_URL: product.databaseUrl },
        encoding: 'utf8',
        timeout: 60_000 * pace,
      },
    );
    expect({ status, stderr }).toEqual({ status: 0, stderr: '' });
  });
});
