import { beforeAll, describe, expect, it } from 'vitest';
import Papa from 'papaparse';
import type { CandidateDetail } from '../../src/contract/candidates.ts';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import type { HeldOutView } from '../../src/contract/looks.ts';
import type { ScreeningView } from '../../src/contract/screenings.ts';
import { inconsistencies } from '../support/check.ts';
import { rowsOf } from '../support/database.ts';
import { Client, inRoles, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
});

/** Made-up patients of one hospital. */
const patients = (hospital: string, count: number, from: number) =>
  Array.from({ length: count }, (_, i) => ({
    id: `${hospital}${i}`,
    age: String(40 + ((i * 7 + from) % 41)),
    lactate: (0.6 + ((i * 11 + from) % 37) / 10).toFixed(1),
    ward: ['medical', 'surgical', 'other'][(i + from) % 3],
    note: `n${i % 9}`,
    falls: (i * 13 + from) % 10 < 3 ? 'yes' : 'no',
  }));
type Row = ReturnType<typeof patients>[number];

const here = patients('A', 240, 0);
const there = patients('B', 120, 5);
const asText = (rows: object[]) => Papa.unparse(rows, { newline: '\n' });
const same = ['id', 'age', 'lactate', 'ward', 'falls'];
const byName = (names = same) => Object.fromEntries(names.map((name) => [name, name]));

async function newStudy(name: string, rows: Row[] = here) {
  const study = await client.newStudy(name);
  const { id: cohort } = (
    await client.bringIn(
      study,
      asText(rows),
      'development',
      inRoles({ id: 'identifier', falls: 'outcome', note: 'set aside' }),
    )
  ).body;
  const { body } = await client.changeDesign(study, { event: 'yes' });
  return { study, cohort, state: body };
}

async function holdOut(study: string, rows: object[], columns = byName(), name = 'other.csv') {
  const { body } = await client.upload(name, asText(rows));
  return client.send<Refusal>('POST', `/api/studies/${study}/second-file`, {
    uploadId: body.id,
    columns,
  });
}

const design = (study: string) => client.get<DesignState>(`/api/studies/${study}/design`);

async function fitted(study: string) {
  const { body } = await client.send<{ id: string }>('POST', `/api/studies/${study}/candidates`, {
    family: 'logistic',
    settings: {},
  });
  await client.fitted(study);
  const look = await client.send<HeldOutView>('POST', `/api/studies/${study}/looks`, {
    candidate: body.id,
  });
  const detail = await client.get<CandidateDetail>(`/api/candidates/${body.id}`);
  return { look: look.body, detail, id: body.id };
}

async function allocation(study: string) {
  const text = await (await fetch(`${product.address}/api/studies/${study}/allocation`)).text();
  return Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true }).data;
}

describe('a second file whose patients are held out', () => {
  it('gives the same as both files put together by hand and divided by rows', async () => {
    const two = await newStudy('Two files');
    // Columns in another order, one under another name, one too many, one lacking.
    const sent = there.map(({ id, age, lactate, ward, falls }) => ({
      falls,
      years: age,
      id,
      lactate,
      ward,
      height: '170',
    }));
    const { status } = await holdOut(two.study, sent, { ...byName(), age: 'years' });
    expect(status).toBe(200);
    const state = await design(two.study);
    expect(state.choices.split).toEqual({ way: 'second file', name: 'other.csv', from: 241 });
    expect(state.counts!.development.patients).toBe(240);
    expect(state.counts!.heldOut).toEqual({
      patients: 120,
      events: there.filter(({ falls }) => falls === 'yes').length,
    });
    const rows = await allocation(two.study);
    expect(rows.map(({ id, side }) => [id, side])).toEqual([
      ...here.map(({ id }) => [id, 'development']),
      ...there.map(({ id }) => [id, 'held out']),
    ]);
    expect(rows.filter(({ fold }) => fold !== '')).toHaveLength(240);

    const one = await newStudy('One file', [...here, ...there]);
    await client.changeDesign(one.study, { split: { way: 'by rows', from: 241, to: 360 } });
    const [a, b] = [await fitted(two.study), await fitted(one.study)];
    expect(a.look.predictions).toEqual(b.look.predictions);
    expect(a.detail.facets).toEqual(b.detail.facets);
    // What the second file does not have is not known of its patients, and of nobody else.
    const cohort = await client.get<CohortInfo>(`/api/cohorts/${two.cohort}`);
    const note = cohort.summaries[cohort.dictionary.findIndex(({ name }) => name === 'note')];
    expect(note.missing).toBe(120);
    expect(cohort).toMatchObject({ rowCount: 360, second: { name: 'other.csv', from: 241 } });
  });

  it('can be undone, done again and taken out, and candidates follow', async () => {
    const { study, cohort, state } = await newStudy('There and back');
    const { id } = await fitted(study);
    const outOfDate = async () =>
      (await client.fitted(study)).find((line) => line.id === id)!.outOfDate;
    const other = there.map((row) => ({
      ...row,
      ward: row.ward === 'other' ? 'hospice' : row.ward,
    }));
    expect((await holdOut(study, other)).status).toBe(200);
    expect(await outOfDate()).toBe(true);
    const before = await design(study);
    const levels = async () =>
      (await client.get<CohortInfo>(`/api/cohorts/${cohort}`)).dictionary.find(
        ({ name }) => name === 'ward',
      )!.levels;
    expect(await levels()).toEqual(['medical', 'other', 'surgical', 'hospice']);

    await client.send('POST', `/api/studies/${study}/step`, { direction: 'undo' });
    expect((await design(study)).counts).toEqual(state.counts);
    expect(await outOfDate()).toBe(false);
    expect(await levels()).toEqual(['medical', 'other', 'surgical']);
    await client.send('POST', `/api/studies/${study}/step`, { direction: 'redo' });
    expect((await design(study)).counts).toEqual(before.counts);

    // Another file takes its place below the first, not below both.
    expect((await holdOut(study, there.slice(0, 60), byName(), 'newer.csv')).status).toBe(200);
    expect((await design(study)).counts!.heldOut.patients).toBe(60);
    expect((await client.send('DELETE', `/api/studies/${study}/second-file`)).status).toBe(200);
    const after = await design(study);
    expect(after.choices.split).toEqual({ way: 'by chance' });
    expect(after.counts).toEqual(state.counts);
    const { status, body } = await client.send<Refusal>(
      'DELETE',
      `/api/studies/${study}/second-file`,
    );
    expect([status, body.code]).toEqual([409, 'no-second-file']);
    expect(await inconsistencies(product.databaseUrl)).toEqual([]);
  });

  it('goes through exclusions and derived columns like the first', async () => {
    const { study, cohort } = await newStudy('Followed');
    await client.mend(cohort, (dictionary) =>
      dictionary.push({
        name: 'strain',
        label: '',
        unit: '',
        kind: 'number',
        role: 'predictor',
        missingCodes: [],
        formula: 'lactate * age / 100',
      }),
    );
    const { selection } = await client.get<CohortInfo>(`/api/cohorts/${cohort}`);
    await client.send('PUT', `/api/cohorts/${cohort}/selection`, {
      base: selection,
      mine: { ...selection, exclusions: [{ condition: 'age < 50', reason: 'too young' }] },
    });
    expect((await holdOut(study, there)).status).toBe(200);
    const old = ({ age }: Row) => Number(age) >= 50;
    expect((await design(study)).counts).toMatchObject({
      development: { patients: here.filter(old).length },
      heldOut: { patients: there.filter(old).length },
    });
    const text = await (
      await fetch(`${product.address}/api/cohorts/${cohort}/file?format=csv&side=held%20out`)
    ).text();
    const rows = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true });
    expect(rows.data.map(({ id }) => id)).toEqual(there.filter(old).map(({ id }) => id));
    rows.data.forEach(({ age, lactate, strain }) =>
      expect(Number(strain)).toBeCloseTo((Number(lactate) * Number(age)) / 100, 9),
    );
  });

  it('gives its patients the risks that they would have as a list, also with a new level', async () => {
    const { study } = await newStudy('As a list');
    const other = there.map((row) => ({
      ...row,
      ward: row.ward === 'other' ? 'hospice' : row.ward,
    }));
    expect((await holdOut(study, other)).status).toBe(200);
    const { look, id } = await fitted(study);
    const { body: list } = await client.bringIn(
      study,
      asText(other),
      'screening',
      inRoles({ id: 'identifier' }),
    );
    const { body: scored } = await client.send<{ id: string }>(
      'POST',
      `/api/studies/${study}/screenings`,
      { cohort: list.id, candidate: id, accept: true, unchecked: true },
    );
    const { risks } = await client.get<ScreeningView>(`/api/screenings/${scored.id}`);
    expect(risks).toBe(look.predictions.risks);
  });

  it.each([
    ['without the outcome', there, byName(['id', 'age', 'lactate']), 'has no column for Falls'],
    ['without a predictor', there, byName(['id', 'falls']), 'has none of the predictors'],
    ['with a patient of the first', [here[3], ...there], byName(), 'One patient stands in'],
    [
      'without one case',
      there.map((row) => ({ ...row, falls: 'no' })),
      byName(),
      'on the held-out side 0 of 120',
    ],
    ['with a column that it does not have', there, { ...byName(), age: 'years' }, '"years"'],
  ])('is refused %s, and nothing is changed', async (_, rows, columns, sentence) => {
    const { study, cohort } = await newStudy('Refused');
    const before = [await design(study), await client.get(`/api/cohorts/${cohort}`)];
    const { status, body } = await holdOut(study, rows, columns);
    expect(status).toBe(422);
    expect(body.sentence).toContain(sentence);
    expect([await design(study), await client.get(`/api/cohorts/${cohort}`)]).toEqual(before);
  });

  it('is refused where it says of the outcome what the first never does', async () => {
    const words = (rows: Row[]) =>
      rows.map((row) => ({ ...row, falls: row.falls === 'yes' ? 'fell' : 'stood' }));
    const { study } = await newStudy('Levels', words(here));
    await client.changeDesign(study, { event: 'fell' });
    const other = words(there);
    other[0].falls = 'perhaps';
    // It would count as one who did not fall.
    const { status, body } = await holdOut(study, other);
    expect(status).toBe(422);
    expect(body.sentence).toContain('other.csv says perhaps of the outcome');
    expect((await design(study)).counts!.heldOut.patients).toBe(60);
  });

  it('leaves no file behind once the study is erased, also where it was undone', async () => {
    const files = async () =>
      (await rowsOf<{ id: string }>(product.databaseUrl, 'select id from upload')).length;
    const before = await files();
    const { study } = await newStudy('Erased');
    expect((await holdOut(study, there)).status).toBe(200);
    // The first file by itself and both together.
    expect(await files()).toBe(before + 2);
    await client.send('POST', `/api/studies/${study}/step`, { direction: 'undo' });
    await client.send('DELETE', `/api/studies/${study}`);
    const { status } = await client.send('POST', `/api/studies/${study}/erase`, { name: 'Erased' });
    expect(status).toBe(200);
    expect(await files()).toBe(before);
  });
});
