import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { Deleted } from '../../src/contract/deleted.ts';
import type { Overview } from '../../src/contract/studies.ts';
import { startProduct, type Product } from '../../../scripts/product.mjs';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { inconsistencies } from '../support/check.ts';
import { Client, type Refusal } from '../support/client.ts';
import { onDatabase, rowsOf } from '../support/database.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';

let product: FreshProduct;
/** A second web server and worker on the same database, as on another machine. */
let second: Product;
let client: Client;
let other: Client;

beforeAll(async () => {
  product = await freshProduct({ demo: false });
  second = await startProduct({
    databaseUrl: product.databaseUrl,
    demo: false,
    firstPort: 4610,
  });
  client = new Client(product.address);
  other = client.at(second.address);
});
afterAll(async () => {
  await second.stop();
  await product.stop();
});

async function newStudy(name: string): Promise<{ study: string; cohort: string }> {
  const study = await client.newStudy(name);
  const { body } = await client.bringIn(study, birthWeight, 'development', asPublished);
  await client.changeDesign(study, { event: 'yes' });
  await client.fitted(study);
  return { study, cohort: body.id };
}

const overview = (study: string) => client.get<Overview>(`/api/studies/${study}`);
const sound = async () => expect(await inconsistencies(product.databaseUrl)).toEqual([]);

describe('changes at the same time', () => {
  it('through two web servers come one after the other, and each is kept', async () => {
    const { study } = await newStudy('Two servers');
    const costs = Array.from({ length: 12 }, (_, i) => i + 2);
    const answers = await Promise.all(
      costs.map((cost, i) =>
        (i % 2 ? client : other).send<Refusal>('PUT', `/api/studies/${study}/design`, {
          base: {},
          mine: { missedCost: cost },
          insist: true,
        }),
      ),
    );
    // A body that is no whole design is refused, so whole ones are sent below.
    expect(answers.every(({ status }) => status === 400)).toBe(true);
    const { design } = await overview(study);
    const base = design!.choices;
    const saved = await Promise.all(
      costs.map((missedCost, i) =>
        (i % 2 ? client : other).send('PUT', `/api/studies/${study}/design`, {
          base,
          mine: { ...base, missedCost },
          insist: true,
        }),
      ),
    );
    expect(saved.map(({ status }) => status)).toEqual(costs.map(() => 200));
    const numbers = await rowsOf<{ number: number; what: string }>(
      product.databaseUrl,
      `select number, what from revision where study_id = '${study}' and not left_behind order by number`,
    );
    expect(numbers.map(({ number }) => number)).toEqual(numbers.map((_, i) => i + 1));
    expect(numbers.length).toBe(2 + costs.length);
    await sound();
  });

  it('give ten candidates ten numbers', async () => {
    const { study } = await newStudy('Ten at once');
    const made = await Promise.all(
      Array.from({ length: 10 }, (_, i) =>
        (i % 2 ? client : other).send<{ id: string }>('POST', `/api/studies/${study}/candidates`, {
          family: 'logistic',
          settings: { iterations: 20 + i },
        }),
      ),
    );
    expect(made.map(({ status }) => status)).toEqual(made.map(() => 200));
    const lines = await client.fitted(study);
    expect(lines.map(({ number }) => number)).toEqual(Array.from({ length: 11 }, (_, i) => i));
    expect(new Set(made.map(({ body }) => body.id)).size).toBe(10);
    await sound();
  });

  it('make one cohort of what was submitted twice', async () => {
    const study = await client.newStudy('Submitted twice');
    const { body } = await client.upload('mothers.csv', birthWeight);
    const dictionary = body.columns.map(({ proposal }) => proposal.entry);
    asPublished(dictionary);
    const wanted = { purpose: 'development', name: 'Mothers', uploadId: body.id, dictionary };
    const answers = await Promise.all(
      [client, other, client, other].map((one) =>
        one.send<{ id: string } & Refusal>('POST', `/api/studies/${study}/cohorts`, wanted),
      ),
    );
    expect(answers.map(({ status }) => status)).toEqual([200, 200, 200, 200]);
    expect(new Set(answers.map(({ body: { id } }) => id)).size).toBe(1);
    await sound();
  });

  it('undo as many steps as they ask for, however fast', async () => {
    const { study } = await newStudy('Undone');
    for (const missedCost of [2, 3, 4, 5]) await client.changeDesign(study, { missedCost });
    const steps = await Promise.all(
      [client, other, client].map((one) =>
        one.send<{ what: string }>('POST', `/api/studies/${study}/step`, { direction: 'undo' }),
      ),
    );
    expect(steps.map(({ body }) => body.what).sort()).toEqual([
      'cost of a missed case 2 → 3',
      'cost of a missed case 3 → 4',
      'cost of a missed case 4 → 5',
    ]);
    expect((await overview(study)).design!.choices.missedCost).toBe(2);
    await sound();
  });
});

describe('the database itself', () => {
  it('refuses a division of other patients than the cohort has', async () => {
    const { cohort } = await newStudy('Constraint');
    await expect(
      onDatabase(product.databaseUrl, `update cohort set row_count = 12 where id = '${cohort}'`),
    ).rejects.toThrow(/other patients than its cohort/);
  });

  it('has an index for every reference', async () => {
    const without = await rowsOf(
      product.databaseUrl,
      `select conrelid::regclass::text as place, conname from pg_constraint
        where contype = 'f' and connamespace = 'public'::regnamespace and not exists (
          select from pg_index where indrelid = conrelid and indpred is null
            and (indkey::int2[])[0:cardinality(conkey) - 1] = conkey)`,
    );
    expect(without).toEqual([]);
  });

  it('left half changed by an older version is noticed and mended at the next start', async () => {
    const { study, cohort } = await newStudy('Half changed');
    await client.changeDesign(study, { missedCost: 3 });
    // As if a change of who is in had been broken off between its steps.
    const kept = Buffer.from(
      Int32Array.from({ length: 100 }, (_, i) => Math.floor(1.8 * i)).buffer,
    ).toString('hex');
    await onDatabase(
      product.databaseUrl,
      `alter table cohort disable trigger cohort_patients_divided;
      update cohort set kept = '\\x${kept}', row_count = 100 where id = '${cohort}';
      alter table cohort enable trigger cohort_patients_divided`,
    );
    const found = await inconsistencies(product.databaseUrl);
    expect(found.map(({ what }) => what)).toContain(
      'the division in force is of other patients than the cohort has',
    );
    // A fit that is asked for in between is refused rather than fitted on anybody's sides.
    const { body } = await client.send<{ id: string }>('POST', `/api/studies/${study}/candidates`, {
      family: 'logistic',
      settings: {},
    });
    const lines = await client.fitted(study);
    expect(lines.find(({ id }) => id === body.id)!.problem).toBe(
      'The patients have changed since this fit was asked for. Fit it again.',
    );
    await product.setUp();
    await sound();
    const [reference] = await client.fitted(study);
    expect(reference.outOfDate).toBe(false);
    expect((await overview(study)).design!.counts!.development.patients).toBeLessThan(100);
  });
});

describe('a list whose values change after it was scored', () => {
  it('has its scores marked, shows none of them beside the wrong patients, and is scored again with one act', async () => {
    const { study } = await newStudy('Scored');
    const candidate = (
      await client.send<{ id: string }>('POST', `/api/studies/${study}/candidates`, {
        family: 'logistic',
        settings: {},
      })
    ).body.id;
    await client.fitted(study);
    const list = (await client.bringIn(study, birthWeight, 'screening')).body.id;
    const pair = { cohort: list, candidate, accept: true, unchecked: true };
    const { id } = (
      await client.send<{ id: string }>('POST', `/api/studies/${study}/screenings`, pair)
    ).body;
    const view = () => client.get<{ outOfDate: string | null }>(`/api/screenings/${id}`);
    expect((await view()).outOfDate).toBeNull();
    await client.mend(list, (dictionary) => {
      dictionary.find(({ name }) => name === 'age')!.missingCodes = ['19'];
    });
    expect((await view()).outOfDate).toBe('list');
    for (const path of ['rows?from=0&count=5', 'file']) {
      const { status, body } = await client.send<Refusal>('GET', `/api/screenings/${id}/${path}`);
      expect([status, body.code]).toEqual([409, 'list-changed']);
    }
    await client.send('POST', `/api/studies/${study}/screenings`, pair);
    expect((await view()).outOfDate).toBeNull();
  });
});

describe('a deleted study', () => {
  it('is closed to every id of its parts, for reading and writing, and open again once it is back', async () => {
    const { study, cohort } = await newStudy('Closed');
    const [reference] = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
    await client.send('DELETE', `/api/studies/${study}`);
    const asks: [string, string, object?][] = [
      ['GET', `/api/studies/${study}`],
      ['PATCH', `/api/studies/${study}`, { name: 'Back door' }],
      ['GET', `/api/studies/${study}/design`],
      ['GET', `/api/studies/${study}/events`],
      ['GET', `/api/cohorts/${cohort}`],
      ['GET', `/api/cohorts/${cohort}/rows?from=0&count=5`],
      ['GET', `/api/cohorts/${cohort}/file?format=csv`],
      ['GET', `/api/candidates/${reference.id}/model`],
      ['GET', `/api/candidates/${reference.id}/predictions`],
      ['POST', `/api/candidates/${reference.id}/cancel`],
      ['POST', `/api/studies/${study}/looks`, { candidate: reference.id }],
      ['POST', `/api/studies/${study}/candidates`, { family: 'logistic', settings: {} }],
    ];
    for (const [method, path, body] of asks)
      expect([path, (await client.send(method, path, body)).status]).toEqual([path, 404]);
    await client.send('POST', `/api/studies/${study}/restore`);
    expect((await client.send('GET', `/api/cohorts/${cohort}`)).status).toBe(200);
  });

  it('is erased at once where its name is typed, with its files and all that was made of them', async () => {
    const { study, cohort } = await newStudy('Erased');
    const { uploadId } = await client.get<CohortInfo>(`/api/cohorts/${cohort}`);
    const erase = (name: string) =>
      client.send<Refusal>('POST', `/api/studies/${study}/erase`, { name });
    expect((await erase('Erased')).body.code).toBe('not-deleted');
    await client.send('DELETE', `/api/studies/${study}`);
    expect((await erase('erased')).body.sentence).toBe(
      'That is not its name. Nothing was erased; type Erased.',
    );
    expect((await erase('Erased')).status).toBe(200);
    const deleted = await client.get<Deleted[]>('/api/deleted');
    expect(deleted.map(({ id }) => id)).not.toContain(study);
    const [left] = await rowsOf<Record<string, number>>(
      product.databaseUrl,
      `select (select count(*)::int from study where id = '${study}') as studies,
        (select count(*)::int from column_chunk where cohort_id = '${cohort}') as chunks,
        (select count(*)::int from upload where id = '${uploadId}') as uploads,
        (select count(*)::int from upload_chunk where upload_id = '${uploadId}') as pieces`,
    );
    expect(left).toEqual({ studies: 0, chunks: 0, uploads: 0, pieces: 0 });
    expect((await client.send('POST', `/api/studies/${study}/restore`)).status).toBe(404);
    await sound();
  });
});
