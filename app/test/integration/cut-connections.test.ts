import { setTimeout as wait } from 'node:timers/promises';
import { sql } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import { atOnce, closeDatabase, db } from '../../src/server/ground/database/index.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { inconsistencies } from '../support/check.ts';
import { Client, type Refusal } from '../support/client.ts';
import { rowsOf } from '../support/database.ts';
import { sampleOfTheDay } from '../support/day.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';

let product: FreshProduct;
let client: Client;
let study: string;
let cohort: string;

beforeAll(async () => {
  product = await freshProduct({ demo: false });
  client = new Client(product.address);
  study = await client.newStudy('Cut');
  cohort = (await client.bringIn(study, birthWeight, 'development', asPublished)).body.id;
  await client.changeDesign(study, { event: 'yes', missedCost: 2 });
  await client.send('POST', `/api/studies/${study}/candidates`, {
    ...{ family: 'logistic', settings: {} },
  });
  await client.fitted(study);
});
afterAll(() => product.stop());

/** Ends every connection of the product's processes that a condition on pg_stat_activity names. */
const cut = (which: string) =>
  rowsOf(
    product.databaseUrl,
    `select pg_terminate_backend(pid) from pg_stat_activity
     where datname = current_database() and pid <> pg_backend_pid() and ${which}`,
  );

const inside = "(state = 'idle in transaction' or query like '%advisory_lock%')";

/** Where a change is cut, in steps of two milliseconds from its beginning. */
const moments = Array.from({ length: 24 }, (_, moment) => moment);

const acts: Record<string, () => Promise<{ status: number; body: object }>> = {
  design: async () => {
    const { choices } = await client.get<DesignState>(`/api/studies/${study}/design`);
    return client.send('PUT', `/api/studies/${study}/design`, {
      ...{ base: choices, mine: { ...choices, seed: choices.seed + 1 } },
    });
  },
  dictionary: async () => {
    const { dictionary } = await client.get<CohortInfo>(`/api/cohorts/${cohort}`);
    const mine = structuredClone(dictionary);
    const age = mine.find(({ name }) => name === 'age')!;
    age.missingCodes = age.missingCodes.length > 0 ? [] : ['45'];
    return client.send('PUT', `/api/cohorts/${cohort}/dictionary`, { base: dictionary, mine });
  },
  fit: async () => {
    const lines = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
    return client.send('PUT', `/api/studies/${study}/candidates`, {
      candidates: lines.map(({ id }) => id),
    });
  },
  undo: () => client.send('POST', `/api/studies/${study}/step`, { direction: 'undo' }),
  list: () => client.bringIn(study, birthWeight, 'screening', asPublished),
};

describe('a database connection that is cut', () => {
  it.each(Object.keys(acts))(
    'at any moment of a change (%s) is answered with a sentence, and ends no process',
    async (name) => {
      const web = product.web.pid;
      const worker = product.workers[0].pid;
      const states = new Set<number>();
      for (const moment of sampleOfTheDay(moments, 6, name)) {
        for (const which of [inside, 'true']) {
          while (name === 'undo' && (await acts.design()).status !== 200) await wait(20);
          const change = acts[name]().catch((error: unknown) => error as Error);
          // The first are close together: a change takes some tens of milliseconds.
          await wait(moment * 2);
          await cut(which);
          const answer = await change;
          // What reads before the change may be refused as well: a body without a status.
          if (answer instanceof Error) continue;
          states.add(answer.status);
          if (answer.status >= 400) expect((answer.body as Refusal).sentence, name).toMatch(/[.]$/);
          expect([200, 201, 409, 422, 503]).toContain(answer.status);
        }
      }
      expect(states).toContain(200);
      expect([product.web.pid, product.workers[0].pid]).toEqual([web, worker]);
      expect((await client.send('GET', `/api/studies/${study}`)).status).toBe(200);
      await client.fitted(study);
      expect(await inconsistencies(product.databaseUrl)).toEqual([]);
    },
  );

  it('leaves others undisturbed: they read and change other studies meanwhile', async () => {
    const other = await client.newStudy('Another');
    await client.bringIn(other, birthWeight, 'development', asPublished);
    const statuses: number[] = [];
    for (let round = 0; round < 8; round++) {
      const change = acts.design().catch(() => undefined);
      await wait(round * 5);
      const others = Promise.all([
        client.send('GET', `/api/studies/${other}`),
        client.send('GET', `/api/studies/${other}/design`),
      ]);
      await cut(inside);
      statuses.push(...(await others).map(({ status }) => status));
      await change;
    }
    expect(new Set(statuses)).toEqual(new Set([200]));
  });
});

describe('a change that asks several things side by side', () => {
  it('asks them one after another on its connection, and fails where one of them does', async () => {
    process.env.DATABASE_URL = product.databaseUrl;
    const warnings: string[] = [];
    const note = ({ message }: Error) => warnings.push(message);
    process.on('warning', note);
    const ask = (what: string) => db().execute<{ is: number }>(sql.raw(`select ${what} as is`));
    try {
      const answers = await atOnce(() => Promise.all([ask('1'), ask('2'), ask('3')]));
      expect(answers.map(({ rows }) => rows[0].is)).toEqual([1, 2, 3]);
      await expect(atOnce(() => Promise.all([ask('1'), ask('1 / 0'), ask('3')]))).rejects.toThrow();
      expect((await atOnce(() => ask('4'))).rows[0].is).toBe(4);
      await wait(50);
      expect(warnings).toEqual([]);
    } finally {
      process.off('warning', note);
      delete process.env.DATABASE_URL;
      await closeDatabase();
    }
  });
});
