import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import type { Overview } from '../../src/contract/studies.ts';
import type { PackedColumns, SurveyResults, SurveyView } from '../../src/contract/surveys.ts';
import { Client, type Refusal } from '../support/client.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';

let product: FreshProduct;
let client: Client;
let demo: string;
/** Hosmer & Lemeshow's mothers, the design not yet complete. */
let mothers: string;

beforeAll(async () => {
  product = await freshProduct();
  client = new Client(product.address);
  const first = await fetch(product.address);
  demo = new URL(first.url).pathname.split('/')[2];
  mothers = await client.newStudy('Mothers');
  await client.bringIn(mothers, birthWeight, 'development', asPublished);
});
afterAll(() => product.stop());

async function ask<Part extends keyof SurveyResults>(
  study: string,
  part: Part,
  query = '',
): Promise<SurveyView<Part>> {
  for (let tries = 0; tries < 600; tries++) {
    const view = await client.ask<SurveyView<Part>>(
      `/api/studies/${study}/survey?part=${part}${query}`,
    );
    if (view.current) return view;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error(`${part} was not worked out in time.`);
}

const columns = (study: string, query: string) =>
  client.send<PackedColumns & Refusal>('GET', `/api/studies/${study}/survey/columns?${query}`);
const numbersOf = (packed: string) =>
  new Float64Array(Uint8Array.from(Buffer.from(packed, 'base64')).buffer);
const rowsOf = (packed: string) =>
  new Int32Array(Uint8Array.from(Buffer.from(packed, 'base64')).buffer);

describe('the survey of a cohort', () => {
  it('describes every column of the development patients, and their gaps', async () => {
    const { result } = await ask(demo, 'columns');
    const { counts } = await client.get<DesignState>(`/api/studies/${demo}/design`);
    const cohort = await client.get<CohortInfo>(`/api/studies/${demo}/development`);
    expect(result!.patients).toBe(counts!.development.patients);
    expect(result!.columns.map(({ name }) => name)).toEqual(
      cohort.dictionary.map(({ name }) => name),
    );
    const injury = result!.columns.find(({ name }) => name === 'injury_7_days')!;
    expect(injury.counts![1]).toBe(counts!.development.events);
    result!.columns.forEach(({ missing }, i) => expect(result!.gaps.perColumn[i]).toBe(missing));
    expect(result!.gaps.perPatient.reduce((sum, patients) => sum + patients, 0)).toBe(
      result!.patients,
    );
  });

  it('is of all patients before there is a split', async () => {
    const { result } = await ask(mothers, 'columns');
    expect(result!.patients).toBe(189);
    const age = result!.columns.find(({ name }) => name === 'age')!;
    // Hosmer & Lemeshow (1989): the mothers are 14 to 45 years old.
    expect([age.numbers!.least, age.numbers!.greatest]).toEqual([14, 45]);
  });

  it('relates the columns to any outcome, each in its way', async () => {
    const toEvent = (await ask(demo, 'relations', '&against=injury_7_days')).result!;
    expect(toEvent.shape).toBe('event');
    const creatinine = toEvent.relations.find(({ name }) => name === 'creatinine')!;
    expect(creatinine.measure).toBe('AUC');
    expect(creatinine.adjustedP).toBeGreaterThanOrEqual(creatinine.p);
    expect(toEvent.relations.map(({ name }) => name)).not.toContain('reference');
    expect((await ask(demo, 'relations', '&against=injury_grade')).result!.shape).toBe('levels');
    expect((await ask(demo, 'relations', '&against=highest_creatinine')).result!.shape).toBe(
      'number',
    );
  });

  it('relates by patient where patients have several rows, and by row again without an identifier', async () => {
    const study = await client.newStudy('Visits');
    const [header, ...rows] = birthWeight.trim().split('\n');
    // Each mother three times: nothing is known of the outcome that one row of each would not say.
    const visits = rows.flatMap((row, i) => [1, 2, 3].map(() => `M${i + 1},${row}`));
    const cohort = await client.bringIn(
      study,
      [`id,${header}`, ...visits].join('\n'),
      'development',
      (dictionary) => {
        asPublished(dictionary.slice(1));
        dictionary[0].role = 'identifier';
      },
    );
    const byPatient = (await ask(study, 'relations', '&against=low')).result!;
    expect(byPatient.dependent).toEqual({ rows: 567, clusters: 189 });
    const single = (await ask(mothers, 'relations', '&against=low')).result!;
    for (const { name, p, strength } of byPatient.relations) {
      const other = single.relations.find((one) => one.name === name)!;
      expect(strength.value).toBeCloseTo(other.strength.value, 10);
      // The weight itself decides the outcome: tails of F and chi-square are far apart there.
      if (name === 'bwt') continue;
      // Three equal rows say as much as one. Judged by F, not by chi-square: nearly so.
      expect(Math.abs(Math.log(p / other.p)), name).toBeLessThan(0.12 - 0.12 * Math.log10(other.p));
    }
    await client.mend(cohort.body.id, (dictionary) => {
      dictionary[0].role = 'set aside';
    });
    const byRow = (await ask(study, 'relations', '&against=low')).result!;
    expect(byRow.dependent).toBeUndefined();
    const smoke = (relations: typeof byRow.relations) =>
      relations.find(({ name }) => name === 'smoke')!.p;
    expect(smoke(byRow.relations)).toBeLessThan(smoke(byPatient.relations) / 10);
  });

  it('says why a column can be no outcome', async () => {
    const { result, problem } = await ask(demo, 'relations', '&against=clinic_date');
    expect(result).toBeNull();
    expect(problem).toMatch(/text, a date or one level/);
  });

  it('maps associations and patients, and follows the predictors', async () => {
    const { map, inflation } = (await ask(demo, 'associations', '&ranked=yes')).result!;
    expect(map.order).toHaveLength(map.names.length);
    const [a, b] = ['creatinine', 'urea'].map((name) => map.names.indexOf(name));
    expect(map.cells[Math.max(a, b)][Math.min(a, b)]!.value).toBeGreaterThan(0.9);
    expect(inflation.find(({ name }) => name === 'urea')!.factor).toBeGreaterThan(5);
    const before = (await ask(demo, 'patients')).result!;
    const { choices } = await client.get<DesignState>(`/api/studies/${demo}/design`);
    await client.changeDesign(demo, { predictors: ['age', 'creatinine', 'urea'] });
    const after = (await ask(demo, 'patients')).result!;
    expect(after.inputs).toEqual([{ column: 'age' }, { column: 'creatinine' }, { column: 'urea' }]);
    expect(before.inputs.length).toBeGreaterThan(10);
    await client.changeDesign(demo, { predictors: choices.predictors });
  });

  it('refuses what it does not know', async () => {
    const wrong = await client.send<Refusal>('GET', `/api/studies/${demo}/survey?part=weather`);
    expect(wrong.status).toBe(400);
    const unknown = await columns(demo, 'name=shoe%20size');
    expect([unknown.status, unknown.body.sentence]).toEqual([
      404,
      'The column shoe size is not there. It may have been deleted in another tab.',
    ]);
  });
});

describe('columns for the browser', () => {
  it('hold the development patients only, with their rows', async () => {
    const { body } = await columns(demo, 'rows=yes');
    const named = (name: string) => columns(demo, `name=${name}`);
    const [creatinine, sex, reference] = (
      await Promise.all(['creatinine', 'sex', 'reference'].map(named))
    ).map((answered) => answered.body.columns[0]);
    const { counts } = await client.get<DesignState>(`/api/studies/${demo}/design`);
    const rows = rowsOf(body.rows!);
    expect(rows).toHaveLength(counts!.development.patients);
    if (creatinine.type !== 'number' || sex.type !== 'coded' || reference.type !== 'text')
      throw new Error('The columns came as another kind.');
    const values = numbersOf(creatinine.values);
    const cohort = await client.get<CohortInfo>(`/api/studies/${demo}/development`);
    const place = (name: string) => cohort.dictionary.findIndex((entry) => entry.name === name);
    for (const i of [0, 17, rows.length - 1]) {
      const { rows: found } = await client.get<{ rows: string[][] }>(
        `/api/cohorts/${cohort.id}/rows?from=${rows[i]}&count=1`,
      );
      expect(found[0][place('creatinine')]).toBe(Number.isNaN(values[i]) ? '' : String(values[i]));
      expect(found[0][place('reference')]).toBe(reference.values[i]);
    }
    expect(sex.levels).toEqual(cohort.dictionary[place('sex')].levels);
  });
});

describe('held-out patients in the survey', () => {
  it('are let in only by a look, which is counted', async () => {
    const before = await client.get<Overview>(`/api/studies/${demo}`);
    expect((await columns(demo, 'name=age&look=999')).body.code).toBe('no-look');
    const look = (study: string) =>
      client.send<{ look: number } & Refusal>('POST', `/api/studies/${study}/survey/look`);
    expect((await look(mothers)).body.code).toBe('no-split');
    await client.changeDesign(mothers, { event: 'yes' });
    const other = await look(mothers);
    // A look of another study opens nothing.
    expect((await columns(demo, `name=age&look=${other.body.look}`)).status).toBe(403);
    const { body } = await client.send<{ look: number }>(
      'POST',
      `/api/studies/${demo}/survey/look`,
    );
    const all = await columns(demo, `name=age&look=${body.look}`);
    expect(all.body.patients).toBe(2412);
    const { result } = await ask(demo, 'columns', `&look=${body.look}`);
    expect(result!.patients).toBe(2412);
    const after = await client.get<Overview>(`/api/studies/${demo}`);
    expect(after.looks.count).toBe(before.looks.count + 1);
  });
});
