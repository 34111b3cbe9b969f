import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readFileSync } from 'node:fs';
import Papa from 'papaparse';
import { thinInputs, type FittedPreparation } from '@rook-scale/core/preparation';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type {
  CheckBeforeScoring,
  ScreenedRow,
  ScreeningView,
} from '../../src/contract/screenings.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

/**
 * Fleming & Harrington (1991): patients with a liver disease. The first 300 build the model, the rest
 * are the later list, in which columns are missing, renamed, in another unit and under other levels.
 */
const { data, meta } = Papa.parse<Record<string, string>>(
  readFileSync(new URL('../../../core/test/reference/data/pbc.csv', import.meta.url), 'utf8'),
  { header: true, skipEmptyLines: true },
);
const used = [
  'id',
  'age',
  'sex',
  'bili',
  'chol',
  'albumin',
  'copper',
  'protime',
  'edema',
  'dead4y',
];
const rows = data.map((row): Record<string, string> => ({
  ...Object.fromEntries(used.map((name) => [name, row[name] ?? ''])),
  id: String(Number(row.id)).padStart(4, '0'),
}));
const later = rows.slice(300, 360);

let product: LaneProduct;
let client: Client;
let study: string;
let candidate: CandidateLine;

beforeAll(async () => {
  expect(meta.fields).toContain('copper');
  product = await productOfLane();
  client = new Client(product.address);
  study = await client.newStudy('Liver');
  await client.bringIn(study, Papa.unparse(rows.slice(0, 300)), 'development', (dictionary) => {
    for (const entry of dictionary) {
      if (entry.name === 'dead4y') entry.role = 'outcome';
      if (entry.name === 'edema') entry.kind = 'category';
      if (entry.name === 'bili') Object.assign(entry, { label: 'Bilirubin', unit: 'mg/dL' });
    }
  });
  await client.changeDesign(study, { event: 'yes', missedCost: 4 });
  await client.send('POST', `/api/studies/${study}/candidates`, {
    family: 'logistic',
    settings: {},
  });
  [, candidate] = await client.fitted(study);
});

async function list(patients: Record<string, string>[], kinds: Record<string, string> = {}) {
  const { body } = await client.bringIn(
    study,
    Papa.unparse(patients),
    'screening',
    (dictionary) => {
      for (const entry of dictionary) {
        if (entry.name === 'edema') entry.kind = 'category';
        Object.assign(entry, kinds[entry.name] ? { kind: kinds[entry.name] } : {});
      }
    },
  );
  return body.id;
}
const check = (cohort: string) =>
  client.get<CheckBeforeScoring>(
    `/api/studies/${study}/screenings/check?cohort=${cohort}&candidate=${candidate.id}`,
  );
const score = (cohort: string, accept?: boolean) =>
  client.send<{ id: string } & Refusal>('POST', `/api/studies/${study}/screenings`, {
    cohort,
    candidate: candidate.id,
    accept,
    unchecked: true,
  });
const match = (cohort: string, matching: unknown) =>
  client.send<Partial<Refusal>>('PUT', `/api/cohorts/${cohort}/matching`, {
    candidate: candidate.id,
    matching,
  });
const download = async (path: string) =>
  (await (await fetch(`${product.address}/api/screenings/${path}`)).text()).trimEnd().split('\r\n');
const file = (id: string, query = '') => download(`${id}/file${query}`);
const head = (id: string, query = '') => download(`${id}/head${query}`);
async function scored(cohort: string) {
  const { id } = (await score(cohort, true)).body;
  const view = await client.get<ScreeningView>(`/api/screenings/${id}`);
  const answer = await client.get<{ rows: ScreenedRow[] }>(
    `/api/screenings/${id}/rows?from=0&count=100`,
  );
  return { id, view, rows: answer.rows };
}
/** Risks by place in the file. */
const risks = (rows: ScreenedRow[]) =>
  [...rows].sort((a, b) => a.row - b.row).map(({ risk }) => risk);
const without = (name: string) =>
  later.map((row) => Object.fromEntries(Object.entries(row).filter(([key]) => key !== name)));
const renamed = (from: string, to: string, change = (cell: string) => cell) =>
  later.map((row) =>
    Object.fromEntries(
      Object.entries(row).map(([key, cell]) => (key === from ? [to, change(cell)] : [key, cell])),
    ),
  );

describe('a list whose risks would rest on too little', () => {
  it('is not scored without a word, and says for how many and why', async () => {
    const cohort = await list(without('albumin'));
    expect((await check(cohort)).unfamiliarPatients).toBe(60);
    const refused = await score(cohort);
    expect(refused.status).toBe(409);
    expect(refused.body.code).toBe('rests-on-too-little');
    expect(refused.body.sentence).toMatch(
      /^The risk of 60 of 60 patients rests .* Albumin not known/,
    );
    expect(await client.get(`/api/studies/${study}/screenings`)).toEqual([]);
  });

  it('is scored when asked all the same, marked in list and file, and no risk is certain', async () => {
    const [first, ...rest] = later.map((row) => ({ ...row }));
    const {
      id,
      view,
      rows: lines,
    } = await scored(await list([{ ...first, albumin: '' }, ...rest]));
    const strange = lines.filter(({ unfamiliar }) => unfamiliar.includes('albumin'));
    expect(strange.map(({ row }) => row)).toEqual([0]);
    expect(view.unfamiliarPatients).toBe(lines.filter((one) => one.unfamiliar.length > 0).length);
    const [head, ...written] = await file(id);
    expect(head).toBe(
      'patient,row in file,risk,call,hardly seen before,unusualness,unusual,reason 1,reason 2,reason 3,order of reasons,model,version,cutoff,scored at',
    );
    expect(written.filter((line) => line.includes(',albumin,'))).toHaveLength(1);
    for (const risk of risks(lines)) {
      expect(risk).toBeGreaterThan(0.001);
      expect(risk).toBeLessThan(0.9999);
    }
  });

  it('names what holds for everybody', async () => {
    const [first, ...rest] = without('albumin').map((row) => ({ ...row }));
    const { view, rows: lines, id } = await scored(await list([{ ...first, age: '' }, ...rest]));
    expect(view.unfamiliarForAll).toEqual(['albumin']);
    expect(view.unfamiliarPatients).toBe(60);
    expect(lines.every(({ unfamiliar }) => unfamiliar.includes('albumin'))).toBe(true);
    expect(lines.filter(({ unfamiliar }) => unfamiliar.includes('age'))).toHaveLength(1);
    // The file, read without the page, has every mark.
    const written = (await file(id)).slice(1);
    expect(written.filter((line) => line.split(',')[4].includes('albumin'))).toHaveLength(60);
  });

  it('is told in the design which gaps have no indicator of their own', async () => {
    const preparation = await client.get<FittedPreparation>(`/api/studies/${study}/preparation`);
    const thin = thinInputs(preparation);
    const { patients } = preparation;
    expect(patients).toBeGreaterThan(150);
    for (const one of thin)
      if (one.what === 'gap')
        expect(Math.min(one.patients - one.events!, one.events!, one.patients - 3)).toBeLessThan(2);
    expect(preparation.inputs.filter(({ name }) => name === 'albumin not known')).toEqual([]);
  });
});

describe('identifiers', () => {
  it.each(['number', 'category', 'text'])('of kind %s stand as in the file', async (kind) => {
    const cohort = await list(later, { id: kind });
    const { id, rows: lines } = await scored(cohort);
    const written = (await file(id)).slice(1).map((line) => line.split(',')[0]);
    expect([...written].sort()).toEqual(later.map((row) => row.id));
    const place = Object.keys(later[0]).indexOf('id');
    expect(lines.map(({ cells }) => cells[place])).toEqual(written);
  });
});

describe('columns that are called something else', () => {
  it('are suggested, and matched give the same risks as under the model’s name', async () => {
    const same = await scored(await list(later));
    const cohort = await list(renamed('bili', 'bilirubin'));
    const { suggestions } = await check(cohort);
    expect(suggestions).toEqual([
      expect.objectContaining({ predictor: 'bili', column: 'bilirubin' }),
    ]);
    const lost = await scored(cohort);
    expect(risks(lost.rows)).not.toEqual(risks(same.rows));
    expect((await match(cohort, [{ predictor: 'bili', column: 'bilirubin' }])).status).toBe(200);
    const before = await client.get<ScreeningView>(`/api/screenings/${lost.id}`);
    expect(before.outOfDate).toBe('matching');
    const found = await scored(cohort);
    expect(risks(found.rows)).toEqual(risks(same.rows));
    expect(found.view.outOfDate).toBeNull();
    expect(await head(found.id)).toContain('predictor bili,column bilirubin');
  });

  it('in another unit are converted', async () => {
    const same = await scored(await list(later));
    const micromoles = renamed('bili', 'bili_umol', (cell) => String(Number(cell) * 17.1));
    const cohort = await list(micromoles);
    const [suggested] = (await check(cohort)).suggestions;
    expect(suggested).toMatchObject({ predictor: 'bili', column: 'bili_umol' });
    expect(suggested.conversion!.factor).toBeCloseTo(1 / 17.1, 6);
    const { predictor, column, conversion } = suggested;
    await match(cohort, [{ predictor, column, conversion }]);
    const found = risks((await scored(cohort)).rows);
    risks(same.rows).forEach((risk, i) => expect(found[i]).toBeCloseTo(risk!, 9));
  });

  it('with other levels and of another kind are read as the model’s', async () => {
    const same = await scored(await list(later));
    const cohort = await list(
      renamed('sex', 'gender', (cell) => (cell === 'f' ? 'woman' : 'man')),
      { gender: 'text' },
    );
    const levels = [
      { from: 'woman', to: 'f' },
      { from: 'man', to: 'm' },
    ];
    await match(cohort, [{ predictor: 'sex', column: 'gender', levels }]);
    expect(risks((await scored(cohort)).rows)).toEqual(risks(same.rows));
  });

  it('stay matched for later lists with nearly the same columns, and for no other', async () => {
    const cohort = await list(renamed('chol', 'cholesterol_total'));
    const matching = [{ predictor: 'chol', column: 'cholesterol_total' }];
    await match(cohort, matching);
    const next = renamed('chol', 'cholesterol_total').slice(5);
    expect((await check(await list(next))).matching).toEqual(matching);
    const withOneMore = next.map((row) => ({ ...row, sent_by: 'clinic' }));
    expect((await check(await list(withOneMore))).matching).toEqual(matching);
    // Under its own name now, the predictor is what is meant.
    const withBoth = next.map((row) => ({ ...row, chol: '250' }));
    expect((await check(await list(withBoth))).matching).toEqual([]);
    const few = next.map(({ id, cholesterol_total }) => ({ id, cholesterol_total }));
    expect((await check(await list(few))).matching).toEqual([]);
    const other = await list(renamed('chol', 'cholesterol').slice(5));
    expect((await check(other)).matching).toEqual([]);
  });

  it('are refused where they do not exist, twice, or where they name the patient', async () => {
    const cohort = await list(later);
    for (const matching of [
      [{ predictor: 'bili', column: 'nowhere' }],
      [{ predictor: 'nobody', column: 'bili' }],
      [{ predictor: 'bili', column: 'id' }],
      [
        { predictor: 'bili', column: 'chol' },
        { predictor: 'bili', column: 'age' },
      ],
      [{ predictor: 'bili', column: 'chol', conversion: { from: '', factor: 0, offset: 0 } }],
    ]) {
      const refused = await match(cohort, matching);
      expect(refused.status).toBeGreaterThanOrEqual(400);
      expect(refused.status).toBeLessThan(500);
    }
    expect((await check(cohort)).matching).toEqual([]);
  });
});

describe('a predictor that must be known', () => {
  beforeAll(() => client.changeDesign(study, { needed: ['albumin'] }));
  afterAll(() => client.changeDesign(study, { needed: [] }));

  it('lets nobody be scored where the list does not have it', async () => {
    const refused = await score(await list(without('albumin')), true);
    expect(refused.status).toBe(422);
    expect(refused.body.sentence).toMatch(/^Albumin must be known/);
  });

  it('leaves the patients who lack it without a risk, last in list and file', async () => {
    const gap = later.map((row, i) => (i === 7 ? { ...row, albumin: '' } : row));
    const { id, view, rows: lines } = await scored(await list(gap));
    expect(view.unscored).toBe(1);
    expect(lines.at(-1)).toMatchObject({ row: 7, risk: null });
    expect((await file(id)).at(-1)).toMatch(new RegExp(`^${later[7].id},8,,not scored`));
    const known = gap.filter((row, i) => i !== 7 && !['', 'NA'].includes(row.dead4y));
    expect(view.known!.patients).toBe(known.length);
  });
});

describe('the file of a list', () => {
  it('is made at the cutoff that was asked for, and says so', async () => {
    const { id, rows: lines } = await scored(await list(later));
    const called = (text: string[]) => text.filter((line) => line.includes(',call in')).length;
    const expected = lines.filter(({ risk }) => risk! >= 0.9).length;
    const moved = await file(id, '?cutoff=0.9');
    expect(called(moved)).toBe(expected);
    expect(await head(id, '?cutoff=0.9')).toEqual(
      expect.arrayContaining([
        'cutoff of this list,0.9',
        'calls of this list,cutoff set for this file',
      ]),
    );
    expect(await head(id)).toContain('calls of this list,cutoff of the model');
    expect((await file(id))[0]).toBe(moved[0]);
  });
});
