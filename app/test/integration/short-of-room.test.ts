import { spawnSync } from 'node:child_process';
import { chmodSync, mkdirSync, mkdtempSync, rmSync, statfsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as wait } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { developmentCohort, toCsv } from '@rook-scale/demo';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import { startOwnDatabase } from '../../../scripts/database.mjs';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { inconsistencies } from '../support/check.ts';
import { Client, type Refusal } from '../support/client.ts';
import { onDatabase } from '../support/database.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';
import { pace } from '../support/pace.ts';

/** A small disk in memory; whoever may not mount one has no such test. */
const disk = mkdtempSync('/var/tmp/rook-room-');
chmodSync(disk, 0o755);
const mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=300m', 'tmpfs', disk]).status === 0;

let database: Awaited<ReturnType<typeof startOwnDatabase>> | undefined;
let product: FreshProduct;
let client: Client;
let study: string;

beforeAll(async () => {
  if (mounted) {
    mkdirSync(join(disk, 'postgres'));
    database = await startOwnDatabase(join(disk, 'postgres'));
  }
  product = await freshProduct({ demo: false, cluster: database?.ownerUrl });
  client = new Client(product.address);
  study = await client.newStudy('Short of room');
  await client.bringIn(study, birthWeight, 'development', asPublished);
  await client.changeDesign(study, { event: 'yes', missedCost: 2 });
  await client.fitted(study);
});
afterAll(async () => {
  await product?.stop();
  database?.stop();
  spawnSync('umount', ['--lazy', disk]);
  rmSync(disk, { recursive: true, force: true });
});

const seedNow = async () =>
  (await client.get<DesignState>(`/api/studies/${study}/design`)).choices.seed;

/** Waits until the product answers as ever. */
async function untilAnswers() {
  const end = Date.now() + 120_000 * pace;
  for (;;) {
    const { status, body } = await client.send('GET', `/api/studies/${study}/candidates`);
    if (status === 200) return;
    if (Date.now() > end) throw new Error(`It does not answer: ${JSON.stringify(body)}`);
    await wait(100);
  }
}

/** Changes the seed of the design until something was refused a few times; gives the last seed that was accepted. */
async function changeUntilRefused(most: number) {
  const refused: Refusal[] = [];
  let accepted = await seedNow();
  for (let turn = 0; turn < most && refused.length < 5; turn++) {
    const state = await client.send<DesignState>('GET', `/api/studies/${study}/design`);
    if (state.status !== 200) {
      refused.push(state.body as unknown as Refusal);
      await wait(50);
      continue;
    }
    const { choices } = state.body;
    accepted = choices.seed;
    const mine = { ...choices, seed: choices.seed + 1 };
    const answer = await client.send<DesignState | Refusal>('PUT', `/api/studies/${study}/design`, {
      base: choices,
      mine,
    });
    if (answer.status === 200) accepted = mine.seed;
    else refused.push(answer.body as Refusal);
  }
  return { refused, accepted };
}

describe.runIf(mounted)('a disk that is full', () => {
  it('is said, loses nothing that was accepted, and once there is room all goes on by itself', async () => {
    const before = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
    const filler = join(disk, 'filler');
    const { bavail, bsize } = statfsSync(disk);
    writeFileSync(filler, Buffer.alloc(bavail * bsize - 2_000_000));
    const patients = toCsv(developmentCohort(20_000));
    const large = await client.upload<Refusal>('patients.csv', patients);
    expect(large.status).toBe(503);
    expect(large.body.sentence).toMatch(
      /^The disk of the database is full\. Nothing was changed|^The database does not answer\. Nothing was lost/,
    );
    const { refused, accepted } = await changeUntilRefused(40);
    for (const { code } of refused) expect(['disk-full', 'database-away']).toContain(code);
    const page = await fetch(`${product.address}/studies/${study}/design`);
    if (page.status !== 200)
      expect(await page.text()).toMatch(/The database does not answer|The disk/);
    rmSync(filler);
    await untilAnswers();
    expect(await seedNow()).toBe(accepted);
    expect(await inconsistencies(product.databaseUrl)).toEqual([]);
    const lines = await client.fitted(study);
    expect(lines.map(({ id }) => id)).toEqual(before.map(({ id }) => id));
    expect(lines.map(({ state, problem }) => [state, problem])).toEqual(
      lines.map(() => ['fitted', null]),
    );
    await client.bringIn(study, birthWeight, 'screening', asPublished);
  });
});

describe('a database that is short of memory', () => {
  it('is said, changes nothing, and is over when memory is there again', async () => {
    const seed = await seedNow();
    // Limits on a process are not kept everywhere: the database says by itself what it says then.
    const url = product.databaseUrl;
    await onDatabase(
      url,
      `create function short() returns trigger language plpgsql as
       $$ begin raise 'out of memory' using errcode = '53200'; end $$;
       create trigger short before insert or update on design
       for each statement execute function short()`,
    );
    const { refused } = await changeUntilRefused(10);
    await onDatabase(url, 'drop function short cascade');
    for (const one of refused)
      expect(one).toEqual({
        code: 'memory-short',
        sentence: 'The database is short of memory. Nothing was changed; try again in a moment.',
      });
    expect(refused).toHaveLength(5);
    expect(await seedNow()).toBe(seed);
    expect((await client.changeDesign(study, { seed: seed + 1 })).status).toBe(200);
    expect(await inconsistencies(url)).toEqual([]);
  });
});
