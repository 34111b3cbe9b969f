import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { developmentCohort, toCsv } from '@rook-scale/demo';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type { QueueView } from '../../src/contract/queue.ts';
import type { WorthView } from '../../src/contract/reasons.ts';
import { startDatabase, type Database } from '../../../scripts/database.mjs';
import { Client, type Refusal } from '../support/client.ts';
import { rowsOf } from '../support/database.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';
import { pace } from '../support/pace.ts';

const name = 'test-crash-postgres';
let database: Database;
let product: FreshProduct;
let client: Client;
let study: string;
let expected: CandidateLine['results'];

beforeAll(async () => {
  database = await startDatabase(name);
  product = await freshProduct({ demo: false, workers: 2, cluster: database.url });
  client = new Client(product.address);
  // Made first: a connection that idles while this goes on may be closed under the next request.
  const patients = toCsv(developmentCohort(8000));
  study = await client.newStudy('Recovery');
  await client.bringIn(study, patients, 'development', (dictionary) => {
    for (const entry of dictionary) {
      if (entry.name === 'injury_7_days') entry.role = 'outcome';
      if (/^(injury_grade|highest_creatinine|renal_ward_transfer)$/.test(entry.name))
        entry.role = 'set aside';
    }
  });
  await client.changeDesign(study, { event: 'yes' });
  await client.fitted(study);
  expected = (await until(await add(), ({ state }) => state === 'fitted')).results;
});
afterAll(async () => {
  await product.stop();
  database.stop();
});

async function add(): Promise<string> {
  const body = { family: 'logistic', settings: {} };
  return (await client.send<{ id: string }>('POST', `/api/studies/${study}/candidates`, body)).body
    .id;
}

/** Asks until the candidate is so; a server that does not answer for a while is asked again. */
async function until(id: string, test: (line: CandidateLine) => boolean): Promise<CandidateLine> {
  const end = Date.now() + 120_000 * pace;
  for (;;) {
    const lines = await client
      .get<CandidateLine[]>(`/api/studies/${study}/candidates`)
      .catch(() => undefined);
    const line = Array.isArray(lines) ? lines.find((one) => one.id === id) : undefined;
    if (line && test(line)) return line;
    if (Date.now() > end) throw new Error(`It did not come to pass: ${JSON.stringify(line)}`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

const queue = () => client.get<QueueView>('/api/queue');

describe('two workers', () => {
  it('share one queue, in which everything is seen', async () => {
    const ids = [await add(), await add(), await add()];
    let most = 0;
    // One that is busy may be seen a moment late.
    let seen = 0;
    for (;;) {
      const { fits, workers } = await queue();
      seen = Math.max(seen, workers);
      most = Math.max(most, fits.filter(({ state }) => state === 'fitting').length);
      if (ids.every((id) => fits.some((fit) => fit.candidateId === id && fit.endedAt))) break;
    }
    expect(seen).toBe(2);
    expect(most).toBe(2);
    for (const id of ids)
      expect((await until(id, ({ state }) => state === 'fitted')).results).toEqual(expected);
  });
});

describe('a fit', () => {
  it('goes on while the web server is killed, which is there again by itself', async () => {
    const id = await add();
    await until(id, ({ state }) => state === 'fitting');
    process.kill(product.web.pid, 'SIGKILL');
    expect((await until(id, ({ state }) => state === 'fitted')).results).toEqual(expected);
  });

  it('survives a crash of the database, and the server says what is amiss meanwhile', async () => {
    const id = await add();
    await until(id, ({ state, partsDone }) => state === 'fitting' && partsDone > 0);
    database.stop('immediate');
    const away = await client.send<Refusal>('GET', `/api/studies/${study}`);
    expect([away.status, away.body.code]).toEqual([503, 'database-away']);
    expect(away.body.sentence).toBe(
      'The database does not answer. Nothing was lost; try again in a moment.',
    );
    const page = await fetch(`${product.address}/studies/${study}/records`);
    expect(page.status).toBe(500);
    expect(await page.text()).toContain('The database does not answer');
    const address = database.url;
    database = await startDatabase(name);
    expect(database.url).toBe(address);
    expect((await until(id, ({ state }) => state === 'fitted')).results).toEqual(expected);
    expect((await until(await add(), ({ state }) => state === 'fitted')).results).toEqual(expected);
  });
});

describe('a worker that was frozen', () => {
  const freeze = (worker: number, signal: 'SIGSTOP' | 'SIGCONT') =>
    process.kill(product.workers[worker].pid, signal);

  /** Freezes the one that works once it is at it, until the other has done it all, and lets it go on then. */
  async function takenOver(
    begin: () => Promise<() => Promise<boolean>>,
    ends: () => Promise<boolean>,
  ) {
    freeze(1, 'SIGSTOP');
    const isAtWork = await begin();
    while (!(await isAtWork())) await wait(20);
    freeze(0, 'SIGSTOP');
    freeze(1, 'SIGCONT');
    while (!(await ends())) await wait(200);
  }

  it('writes nothing over a fit that another has finished', async () => {
    let id = '';
    const line = async () => {
      const lines = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
      return lines.find((one) => one.id === id)!;
    };
    await takenOver(
      async () => {
        id = await add();
        return async () => (await line()).state === 'fitting' && (await line()).partsDone > 0;
      },
      async () => (await line()).state === 'fitted',
    );
    const before = await line();
    freeze(0, 'SIGCONT');
    await wait(4000);
    const { fittedAt, fitTime, partsDone, results } = await line();
    expect({ fittedAt, fitTime, partsDone, results }).toEqual({
      ...{ fittedAt: before.fittedAt, fitTime: before.fitTime },
      ...{ partsDone: before.partsDone, results: before.results },
    });
    const [{ count }] = await rowsOf<{ count: string }>(
      product.databaseUrl,
      'select count(*) from fit_part',
    );
    expect(Number(count)).toBe(0);
  });

  it('adds nothing to what predictors are worth, which is counted to its total and no further', async () => {
    const id = await add();
    await until(id, ({ state }) => state === 'fitted');
    const path = `/api/candidates/${id}/reasons/worth`;
    const seen: number[] = [];
    const worth = async () => {
      const view = await client.get<WorthView>(path);
      if (view.total > 0) seen.push(view.done / view.total);
      return view;
    };
    await takenOver(
      async () => {
        await client.send('POST', path, { together: [] });
        return async () => (await worth()).done > 0;
      },
      async () => (await worth()).state === 'there',
    );
    const before = await worth();
    freeze(0, 'SIGCONT');
    await wait(4000);
    expect(await worth()).toEqual(before);
    expect(before.done).toBe(before.total);
    expect(Math.max(...seen)).toBeLessThanOrEqual(1);
  });
});
