import { beforeAll, describe, expect, it } from 'vitest';
import type { Selection } from '@rook-scale/core/selection';
import type { DictionaryEntry } from '@rook-scale/core/table';
import type { Model } from '@rook-scale/core/model';
import type { CohortInfo, FormulaTried } from '../../src/contract/cohorts.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import type { Overview } from '../../src/contract/studies.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { inconsistencies } from '../support/check.ts';
import { Client, type Answer, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;
let study: string;
let id: string;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
});

async function fresh(name: string): Promise<void> {
  study = await client.newStudy(name);
  id = (await client.bringIn(study, birthWeight, 'development', asPublished)).body.id;
  await client.changeDesign(study, { event: 'yes' });
}

const cohort = () => client.get<CohortInfo>(`/api/cohorts/${id}`);
const entryOf = async (name: string) =>
  (await cohort()).dictionary.find((entry) => entry.name === name);
const summaryOf = async (name: string) => {
  const { dictionary, summaries } = await cohort();
  return summaries[dictionary.findIndex((entry) => entry.name === name)];
};
const derived = (name: string, formula: string): DictionaryEntry => ({
  name,
  label: name,
  unit: '',
  kind: 'number',
  role: 'predictor',
  missingCodes: [],
  formula,
});
const add = (entry: DictionaryEntry) => client.mend(id, (dictionary) => dictionary.push(entry));
const tryIt = (formula: string) =>
  client.send<FormulaTried>('POST', `/api/cohorts/${id}/formula`, { formula });
async function select(change: (now: Selection) => Selection): Promise<Answer<Partial<Refusal>>> {
  const { selection } = await cohort();
  const mine = change(selection);
  return client.send('PUT', `/api/cohorts/${id}/selection`, { base: selection, mine });
}
const exclude = (condition: string, reason: string) =>
  select((now) => ({ ...now, exclusions: [...now.exclusions, { condition, reason }] }));
const step = (direction: 'undo' | 'redo') =>
  client.send('POST', `/api/studies/${study}/step`, { direction });

describe('a formula is tried', () => {
  it('on rows, or says where it fails', async () => {
    await fresh('Tried');
    const { body } = await tryIt('lwt / 2.2046');
    if (!body.understood) throw new Error(body.sentence);
    expect(body).toMatchObject({ kind: 'number', reads: ['lwt'], rows: 189, holds: null });
    expect(body.examples[0].read).toEqual(['182']);
    expect(Number(body.examples[0].value)).toBeCloseTo(182 / 2.2046, 9);
    const condition = (await tryIt("smoke = 'yes' and age < 20")).body;
    expect(condition).toMatchObject({ understood: true, kind: 'yes/no' });
    expect((await tryIt('lwtt / 2')).body).toEqual({
      understood: false,
      sentence: 'There is no column lwtt. Did you mean lwt?',
      from: 0,
      to: 4,
    });
  });
});

describe('a derived column', () => {
  it('is a predictor like any other, follows what it reads, and is undone', async () => {
    await fresh('Derived');
    await add(derived('kilograms', 'lwt / 2.2046'));
    await add(derived('heavy', 'bands(kilograms, 50, 70)'));
    expect(await entryOf('heavy')).toMatchObject({
      kind: 'ordered category',
      levels: ['below 50', '50 to 70', '70 and above'],
    });
    const { choices } = await client.get<DesignState>(`/api/studies/${study}/design`);
    expect(choices.predictors).toEqual(expect.arrayContaining(['kilograms', 'heavy']));
    const before = (await summaryOf('heavy')).counts!;
    // 999 pounds would be a code: what it was read from changes, and so do both derived columns.
    await client.mend(id, (dictionary) => {
      dictionary.find(({ name }) => name === 'lwt')!.missingCodes = ['182'];
    });
    const gone = (await summaryOf('lwt')).missing;
    expect(gone).toBeGreaterThan(0);
    expect((await summaryOf('kilograms')).missing).toBe(gone);
    expect((await summaryOf('heavy')).counts![2]).toBe(before[2] - gone);
    await step('undo');
    expect((await summaryOf('heavy')).counts).toEqual(before);
    await step('undo');
    expect(await entryOf('heavy')).toBeUndefined();
    await step('redo');
    expect((await summaryOf('heavy')).counts).toEqual(before);
  });

  it('that can no longer be worked out holds the change up, with the reason', async () => {
    await fresh('Held up');
    await add(derived('kilograms', 'lwt / 2.2046'));
    const { status, body } = await client.mend(id, (dictionary) => {
      const entry = dictionary.find(({ name }) => name === 'lwt')!;
      entry.kind = 'text';
      entry.role = 'set aside';
    });
    expect([status, body.sentence]).toEqual([
      422,
      'kilograms cannot be worked out: “/” needs a number; this is a level or text. Nothing was changed.',
    ]);
    expect((await entryOf('lwt'))!.kind).toBe('number');
  });

  it('travels with the model: a later list needs only what it is worked out from', async () => {
    await fresh('Travels');
    await add(derived('kilograms', 'lwt / 2.2046'));
    await client.changeDesign(study, { predictors: ['kilograms', 'smoke'] });
    await client.send('POST', `/api/studies/${study}/candidates`, {
      family: 'logistic',
      settings: {},
    });
    const lines = await client.fitted(study);
    const candidate = lines.find(({ family }) => family === 'logistic')!.id;
    const model = await client.get<Model>(`/api/candidates/${candidate}/model`);
    expect(model.sources.map(({ name }) => name)).toEqual(['lwt']);
    expect(model.predictors.find(({ name }) => name === 'kilograms')!.formula).toBe('lwt / 2.2046');
    const list = (await client.bringIn(study, birthWeight, 'screening', asPublished)).body.id;
    const scored = await client.send<{ id: string }>('POST', `/api/studies/${study}/screenings`, {
      cohort: list,
      candidate,
      unchecked: true,
    });
    const view = await client.get<{
      risks: string;
      predictors: { name: string; absent: boolean }[];
    }>(`/api/screenings/${scored.body.id}`);
    expect(view.predictors).toMatchObject([
      { name: 'kilograms', absent: false },
      { name: 'smoke', absent: false },
    ]);
    const risks = new Float64Array(Uint8Array.from(Buffer.from(view.risks, 'base64')).buffer);
    // The same mothers by hand: one patient at a time gives the same risk to the last digit.
    const { caseScoresOf } = await import('@rook-scale/core/screening');
    const values = birthWeight
      .trim()
      .split('\n')
      .map((line) => line.split(','));
    const place = (name: string) => values[0].indexOf(name);
    for (const row of [0, 77, 188]) {
      const cells = values[row + 1];
      const patient = {
        lwt: Number(cells[place('lwt')]),
        smoke: cells[place('smoke')] === '1' ? 'yes' : 'no',
      };
      expect(caseScoresOf(model, [patient])[0]).toBe(risks[row]);
    }
  });
});

describe('who is in', () => {
  it('decides rows, summaries, split and survey, keeps the flow, and is undone', async () => {
    await fresh('Who is in');
    expect((await exclude('age < 20', 'under 20')).status).toBe(200);
    expect((await exclude("race = '3' and smoke", 'smokers of group 3')).body).toEqual({});
    const now = await cohort();
    const ages = birthWeight
      .trim()
      .split('\n')
      .slice(1)
      .map((line) => Number(line.split(',')[1]));
    const under = ages.filter((age) => age < 20).length;
    expect(now.flow).toMatchObject({ came: 189, steps: [{ why: 'under 20', out: under }, {}] });
    expect(now.rowCount).toBe(now.flow.steps[1].left);
    expect(now.storedRows).toBe(189);
    expect((await summaryOf('age')).numbers!.least).toBe(20);
    const { counts } = await client.get<DesignState>(`/api/studies/${study}/design`);
    expect(counts!.development.patients + counts!.heldOut.patients).toBe(now.rowCount);
    const { rows } = await client.get<{ rows: string[][] }>(
      `/api/cohorts/${id}/rows?from=0&count=${now.rowCount}`,
    );
    const place = now.dictionary.findIndex(({ name }) => name === 'age');
    expect(rows).toHaveLength(now.rowCount);
    expect(Math.min(...rows.map((row) => Number(row[place])))).toBe(20);
    expect((await client.get<Overview>(`/api/studies/${study}`)).cohort!.rowCount).toBe(
      now.rowCount,
    );
    await step('undo');
    await step('undo');
    expect((await cohort()).rowCount).toBe(189);
    expect((await summaryOf('age')).numbers!.least).toBe(14);
    await step('redo');
    expect((await cohort()).rowCount).toBe(189 - under);
    // What was taken back and done again is the same selection: the split is of the same patients.
    expect(await inconsistencies(product.databaseUrl)).toEqual([]);
  });

  it('rows can be looked at by a condition first, in their places', async () => {
    await fresh('Looked at');
    await exclude('age < 20', 'under 20');
    const get = (query: string) =>
      client.send<{ total: number; places: number[]; rows: string[][] } & Refusal>(
        'GET',
        `/api/cohorts/${id}/rows?${query}`,
      );
    const { body } = await get(`from=0&count=500&where=${encodeURIComponent('age >= 35')}`);
    const everybody = (await get('from=0&count=500')).body;
    const place = (await cohort()).dictionary.findIndex(({ name }) => name === 'age');
    expect(body.total).toBe(body.rows.length);
    expect(body.total).toBeGreaterThan(0);
    expect(body.rows.every((row) => Number(row[place]) >= 35)).toBe(true);
    body.places.forEach((at, i) => expect(everybody.rows[at]).toEqual(body.rows[i]));
    expect((await get('from=0&count=5&where=age')).body.sentence).toMatch(/A condition is needed/);
  });

  it('follows a derived column that a condition reads', async () => {
    await fresh('Follows');
    await add(derived('kilograms', 'lwt / 2.2046'));
    await exclude('kilograms > 90', 'over 90 kg');
    const before = (await cohort()).rowCount;
    await client.mend(id, (dictionary) => {
      dictionary.find(({ name }) => name === 'kilograms')!.formula = 'lwt / 1.1';
    });
    expect((await cohort()).rowCount).toBeLessThan(before);
  });

  it('a plausible range that was set once can be set again', async () => {
    await fresh('Twice set');
    for (const most of [40, 35]) {
      const { status } = await client.mend(id, (dictionary) => {
        const entry = dictionary.find(({ name }) => name === 'age')!;
        entry.plausible = { least: null, most, beyond: 'not known' };
      });
      expect(status).toBe(200);
      expect((await summaryOf('age')).numbers!.greatest).toBeLessThanOrEqual(most);
    }
  });

  it('of duplicates keeps the first, the last or none', async () => {
    study = await client.newStudy('Twice');
    const csv = 'patient_id,age,ill\n' + ['a,1,yes', 'b,2,no', 'a,3,no', 'c,4,yes'].join('\n');
    id = (
      await client.bringIn(study, csv, 'development', (dictionary) => {
        Object.assign(dictionary[0], { role: 'identifier', kind: 'text', levels: undefined });
        Object.assign(dictionary[1], { kind: 'number', role: 'predictor', levels: undefined });
      })
    ).body.id;
    const rows = async (keep: 'first' | 'last' | 'none') => {
      await select((now) => ({ ...now, duplicates: { by: 'identifier', keep } }));
      const { rowCount } = await cohort();
      const { rows: found } = await client.get<{ rows: string[][] }>(
        `/api/cohorts/${id}/rows?from=0&count=${rowCount}`,
      );
      return found.map((cells) => cells[1]);
    };
    expect(await rows('first')).toEqual(['1', '2', '4']);
    expect(await rows('last')).toEqual(['2', '3', '4']);
    expect(await rows('none')).toEqual(['2', '4']);
  });

  it('refuses what leaves nobody, cannot be read, or has no reason, and changes nothing', async () => {
    await fresh('Refused');
    expect((await exclude('age > 0', 'everybody')).body.code).toBe('nobody-left');
    expect((await exclude('agee > 0', 'x')).body.sentence).toMatch(/Did you mean age/);
    expect((await exclude('age > 30', ' ')).status).toBe(400);
    const twice = await select((now) => ({
      ...now,
      duplicates: { by: 'identifier', keep: 'first' },
    }));
    expect(twice.body.code).toBe('no-identifier');
    expect(await cohort()).toMatchObject({ rowCount: 189, version: 1 });
  });
});
