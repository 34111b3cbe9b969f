import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import type { Deleted } from '../../src/contract/deleted.ts';
import type { Overview } from '../../src/contract/studies.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { Client, type Refusal } from '../support/client.ts';
import { onDatabase } from '../support/database.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';

let product: FreshProduct;
let client: Client;
let study: string;
let cohort: string;

beforeAll(async () => {
  product = await freshProduct({ demo: false });
  client = new Client(product.address);
  study = await client.newStudy('Low birth weight');
  cohort = (await client.bringIn(study, birthWeight, 'development', asPublished)).body.id;
  await client.changeDesign(study, { event: 'yes' });
  await client.fitted(study);
});
afterAll(() => product.stop());

const design = () => client.get<DesignState>(`/api/studies/${study}/design`);
const overview = () => client.get<Overview>(`/api/studies/${study}`);
const info = () => client.get<CohortInfo>(`/api/cohorts/${cohort}`);
const step = (direction: 'undo' | 'redo') =>
  client.send<{ what: string } & Refusal>('POST', `/api/studies/${study}/step`, { direction });

describe('undo and redo', () => {
  it('go along every change of design and dictionary, and say which', async () => {
    await client.changeDesign(study, { missedCost: 4 });
    await client.changeDesign(study, { missedCost: 6 });
    await client.mend(cohort, (dictionary) => {
      dictionary.find((entry) => entry.name === 'ftv')!.missingCodes = ['6'];
    });
    expect((await overview()).history).toMatchObject({
      ...{ undo: { what: 'Ftv: not known as 6' }, redo: null, blocked: null },
    });
    const missing = async () => (await info()).summaries.at(-2)!.missing;
    expect(await missing()).toBe(1);
    expect((await step('undo')).body.what).toBe('Ftv: not known as 6');
    expect(await missing()).toBe(0);
    expect((await step('undo')).body.what).toBe('cost of a missed case 4 → 6');
    expect((await step('undo')).body.what).toBe('cost of a missed case 1 → 4');
    expect((await design()).choices.missedCost).toBe(1);
    expect((await step('redo')).body.what).toBe('cost of a missed case 1 → 4');
    expect((await design()).choices.missedCost).toBe(4);
  });

  it('a change after an undo takes the place of what was undone', async () => {
    await client.changeDesign(study, { missedCost: 9 });
    expect((await overview()).history).toMatchObject({
      undo: { what: 'cost of a missed case 4 → 9' },
      redo: null,
    });
    expect((await step('redo')).body.sentence).toBe(
      'There is nothing to redo. Nothing was changed.',
    );
    await step('undo');
    expect((await design()).choices.missedCost).toBe(4);
  });

  it('bring a candidate back in force with its numbers, without fitting it again', async () => {
    await client.send('POST', `/api/studies/${study}/candidates`, {
      family: 'logistic',
      settings: {},
    });
    const before = (await client.fitted(study))[1];
    await client.changeDesign(study, { seed: 99 });
    expect((await client.fitted(study))[1].outOfDate).toBe(true);
    expect((await overview()).history.undo!.what).toBe('seed 1 → 99');
    await step('undo');
    const after = (await client.fitted(study))[1];
    expect(after).toMatchObject({ outOfDate: false, fittedAt: before.fittedAt });
    expect(after.results).toEqual(before.results);
  });

  it('end at the cohort as it was brought in', async () => {
    const undone: string[] = [];
    for (;;) {
      const { status, body } = await step('undo');
      if (status !== 200) break;
      undone.push(body.what);
    }
    expect(undone.at(-1)).toBe('event yes');
    expect(await design()).toMatchObject({ choices: { event: '' }, divisionId: null });
    while ((await step('redo')).status === 200);
    expect((await design()).choices.event).toBe('yes');
  });
});

describe('two tabs', () => {
  it('that change different things both have their way', async () => {
    const { choices: seen } = await design();
    await client.changeDesign(study, { falseAlarmCost: 2 });
    const mine = { base: seen, mine: { ...seen, missedCost: 12 } };
    const { body } = await client.send<DesignState>('PUT', `/api/studies/${study}/design`, mine);
    expect(body.choices).toMatchObject({ missedCost: 12, falseAlarmCost: 2 });
  });

  it('that change the same thing hear of it; the later one may insist', async () => {
    const { choices: seen } = await design();
    await client.changeDesign(study, { missedCost: 20 });
    const edit = { base: seen, mine: { ...seen, missedCost: 30 } };
    const put = (body: object) =>
      client.send<DesignState & Refusal>('PUT', `/api/studies/${study}/design`, body);
    const refused = await put(edit);
    expect([refused.status, refused.body.code]).toEqual([409, 'edited-elsewhere']);
    expect(refused.body.sentence).toMatch(/changed the cost of a missed case.*not lost/);
    expect((await design()).choices.missedCost).toBe(20);
    expect((await put({ ...edit, insist: true })).body.choices.missedCost).toBe(30);
  });

  it('that mend the same column of the dictionary hear of it too', async () => {
    const { dictionary: seen } = await info();
    const place = seen.findIndex((entry) => entry.name === 'lwt');
    const with_ = (part: object) =>
      seen.map((entry, i) => (i === place ? { ...entry, ...part } : entry));
    const put = (part: object) =>
      client.send<Refusal>('PUT', `/api/cohorts/${cohort}/dictionary`, {
        base: seen,
        mine: with_(part),
      });
    expect((await put({ unit: 'lb' })).status).toBe(200);
    expect((await put({ label: 'Weight of the mother' })).status).toBe(200);
    expect((await info()).dictionary[place]).toMatchObject({
      unit: 'lb',
      label: 'Weight of the mother',
    });
    const refused = await put({ unit: 'kg' });
    expect([refused.status, refused.body.code]).toEqual([409, 'edited-elsewhere']);
  });
});

describe('deleting', () => {
  const deleted = () => client.get<Deleted[]>('/api/deleted');

  it('a candidate: gone from the table, its looks still counted, and back with its fit', async () => {
    const [, line] = await client.fitted(study);
    await client.send('POST', `/api/studies/${study}/looks`, { candidate: line.id });
    await client.send('DELETE', `/api/candidates/${line.id}`);
    expect((await client.fitted(study)).length).toBe(1);
    const { looks } = await overview();
    // The split has changed since the candidate was fitted.
    expect([looks.count, looks.earlier]).toEqual([0, 1]);
    expect(await deleted()).toMatchObject([{ what: 'candidate', name: 'Logistic regression 1' }]);
    await client.send('POST', `/api/candidates/${line.id}/restore`);
    expect((await client.fitted(study))[1].results).toEqual(line.results);
    expect(await deleted()).toEqual([]);
  });

  it('the development cohort: the study begins anew, and the old one comes back whole', async () => {
    const before = await client.fitted(study);
    const { choices } = await design();
    await client.send('DELETE', `/api/cohorts/${cohort}`);
    expect(await overview()).toMatchObject({ cohort: null, design: null });
    expect(await client.get(`/api/studies/${study}/candidates`)).toEqual([]);
    const other = (await client.bringIn(study, birthWeight, 'development', asPublished)).body.id;
    const refused = await client.send<Refusal>('POST', `/api/cohorts/${cohort}/restore`);
    expect(refused.body.sentence).toMatch(/built on Patients by now/);
    await client.send('DELETE', `/api/cohorts/${other}`);
    await client.send('POST', `/api/cohorts/${cohort}/restore`);
    expect((await design()).choices).toEqual(choices);
    expect((await client.fitted(study)).map((line) => line.id)).toEqual(
      before.map((line) => line.id),
    );
  });

  it('a study: gone from the list for a day, then for good', async () => {
    const gone = await client.newStudy('Forgotten');
    await client.bringIn(gone, birthWeight, 'development', asPublished);
    await client.changeDesign(gone, { event: 'yes' });
    await client.fitted(gone);
    await client.send('DELETE', `/api/studies/${gone}`);
    expect((await overview()).studies.map(({ id }) => id)).toEqual([study]);
    expect((await client.send('GET', `/api/studies/${gone}`)).status).toBe(404);
    await client.send('POST', `/api/studies/${gone}/restore`);
    expect((await client.send('GET', `/api/studies/${gone}`)).status).toBe(200);
    await client.send('DELETE', `/api/studies/${gone}`);
    await onDatabase(
      product.databaseUrl,
      `update study set deleted_at = deleted_at - interval '25 hours' where id = '${gone}'`,
    );
    await onDatabase(
      product.databaseUrl,
      "update cohort set deleted_at = deleted_at - interval '25 hours' where deleted_at is not null",
    );
    await product.setUp();
    const restored = await client.send<Refusal>('POST', `/api/studies/${gone}/restore`);
    expect(restored.status).toBe(404);
    expect((await deleted()).filter(({ what }) => what !== 'candidate')).toEqual([]);
    expect((await client.fitted(study)).length).toBe(2);
  });
});

describe('dismissing a margin note', () => {
  it('needs a reason, which is kept, and can be taken back', async () => {
    const path = `/api/studies/${study}/dismissals`;
    const note = { note: 'constant · form', title: 'Form never varies' };
    expect((await client.send<Refusal>('POST', path, { ...note, reason: ' ' })).body.sentence).toBe(
      'Say why: the reason is kept with the study.',
    );
    await client.send('POST', path, { ...note, reason: 'one form in use' });
    expect(await client.get(path)).toMatchObject([{ ...note, reason: 'one form in use' }]);
    await client.send('DELETE', path, { note: note.note });
    expect(await client.get(path)).toEqual([]);
  });
});
