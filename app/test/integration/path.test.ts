import { beforeAll, describe, expect, it } from 'vitest';
import { facetOf } from '@rook-scale/core/families';
import { ratesOf } from '@rook-scale/core/measures';
import type { CandidateDetail, CandidateLine } from '../../src/contract/candidates.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import type { HeldOutView } from '../../src/contract/looks.ts';
import type { ScreenedRow, ScreeningView } from '../../src/contract/screenings.ts';
import type { Overview } from '../../src/contract/studies.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { Client } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;
let study: string;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
  study = await client.newStudy('Low birth weight');
});

/** The steps build on each other, as the analyst's do. */
describe('from a file of patients to a call-in list', () => {
  let logistic: CandidateLine;
  let screening: string;

  it('brings the patients in and starts the design from the dictionary', async () => {
    const { status } = await client.bringIn(study, birthWeight, 'development', asPublished);
    expect(status).toBe(200);
    const overview = await client.get<Overview>(`/api/studies/${study}`);
    expect(overview.cohort).toMatchObject({ rowCount: 189, columnCount: 10 });
    expect(overview.design!.questions).toEqual(['Choose which level of Low is the event.']);
    expect(overview.design!.choices).toMatchObject({ outcome: 'low', event: '' });
  });

  it('pages rows from the server', async () => {
    const [cohort] = await client.get<{ id: string }[]>(`/api/studies/${study}/cohorts`);
    expect(cohort).toBeUndefined();
    const { rows } = await rowsOf(185, 50);
    expect(rows.length).toBe(4);
    expect(rows[3].length).toBe(10);
    expect((await rowsOf(0, 2)).rows[0].slice(0, 5)).toEqual(['no', '19', '182', '2', 'no']);
  });

  it('refuses a candidate before the event is chosen', async () => {
    const refused = await client.send<{ sentence: string }>(
      'POST',
      `/api/studies/${study}/candidates`,
      {
        family: 'logistic',
        settings: {},
      },
    );
    expect(refused.status).toBe(409);
    expect(refused.body.sentence).toMatch(/Choose which level of Low is the event/);
  });

  it('divides the patients and fits the reference candidate at once', async () => {
    const saved = await client.changeDesign(study, { event: 'yes', missedCost: 4 });
    expect(saved.body.counts).toEqual({
      development: { patients: 142, events: 44 },
      heldOut: { patients: 47, events: 15 },
      unused: 0,
      // Dealt in turn: to one patient and one event alike.
      folds: [29, 29, 28, 28, 28].map((patients, i) => ({ patients, events: i < 4 ? 9 : 8 })),
    });
    const [reference] = await client.fitted(study);
    expect(reference).toMatchObject({ family: 'reference', state: 'fitted', outOfDate: false });
    expect(reference.results!.area!.mean).toBe(0.5);
  });

  it('fits a logistic regression in the worker and lines it up', async () => {
    await client.send('POST', `/api/studies/${study}/candidates`, {
      family: 'logistic',
      settings: {},
    });
    const lines = await client.fitted(study);
    logistic = lines[1];
    expect(logistic).toMatchObject({
      name: 'Logistic regression 1',
      state: 'fitted',
      problem: null,
    });
    const { table, costPerThousand } = logistic.results!;
    const rates = ratesOf(table);
    expect(table.found + table.missed).toBe(44);
    expect(table.falseAlarms + table.rightlyLeft).toBe(98);
    expect(rates.majorityBaseline.value).toBeCloseTo(98 / 142, 12);
    expect(costPerThousand).toBeCloseTo((1000 * (4 * table.missed + table.falseAlarms)) / 142, 9);
    expect(costPerThousand).toBeLessThanOrEqual(lines[0].results!.costPerThousand);
    const detail = await client.get<CandidateDetail>(`/api/candidates/${logistic.id}`);
    const lineTerms = facetOf(detail.facets, 'coefficients')!.groups[0].lines;
    expect(lineTerms.map((row) => row.term)).toEqual([
      'Intercept',
      'age',
      'lwt',
      'race = 2',
      'race = 3',
      'smoke = yes',
      'ptl',
      'ht = yes',
      'ui = yes',
      'ftv',
    ]);
    expect(facetOf(detail.facets, 'likelihood')!.patients).toBe(142);
  });

  it('chooses the cutoff out of fold by each rule', async () => {
    const rule = (body: object) =>
      client.send<{ cutoff: number }>('PUT', `/api/candidates/${logistic.id}/cutoff`, body);
    const results = async () => (await client.fitted(study))[1].results!;
    await rule({ rule: 'find', share: 0.9 });
    expect(ratesOf((await results()).table).sensitivity.value).toBeGreaterThanOrEqual(0.9);
    await rule({ rule: 'call', perThousand: 250 });
    expect(ratesOf((await results()).table).calledIn.value).toBeLessThanOrEqual(0.25);
    await rule({ rule: 'hand', cutoff: 0.4 });
    expect((await results()).cutoff).toBe(0.4);
    expect((await rule({ rule: 'hand', cutoff: 7 })).status).toBe(400);
    await rule({ rule: 'cheapest' });
    expect((await results()).costPerThousand).toBeCloseTo(logistic.results!.costPerThousand, 9);
  });

  it('gives held-out results for a counted look only, and counts it once a fit and day', async () => {
    const look = () =>
      client.send<HeldOutView>('POST', `/api/studies/${study}/looks`, { candidate: logistic.id });
    expect((await client.get<Overview>(`/api/studies/${study}`)).looks.count).toBe(0);
    const { body } = await look();
    expect(Buffer.from(body.predictions.events, 'base64').length).toBe(47);
    expect(Buffer.from(body.predictions.risks, 'base64').length).toBe(8 * 47);
    // Read again, or by several tabs at once, it teaches nothing new; the openings are kept apart.
    await Promise.all([look(), look(), look()]);
    const again = (await look()).body;
    expect(again.looks.map((one) => one.candidate)).toEqual(['Logistic regression 1']);
    expect(again.openings.map(({ counted }) => counted)).toEqual([
      false,
      false,
      false,
      false,
      true,
    ]);
    expect((await client.get<Overview>(`/api/studies/${study}`)).looks.count).toBe(1);
  });

  it('scores another list, highest risk first, and says what was amiss', async () => {
    const list =
      'mother_id,age,lwt,race,smoke,ht,ui,ftv,low\nA1,19,95,3,1,1,1,0,1\nB2,33,180,1,0,0,0,2,0\nC3,25,120,4,0,0,0,1,\n';
    const cohort = (
      await client.bringIn(study, list, 'screening', (dictionary) => {
        for (const entry of dictionary) {
          if (entry.name === 'race') entry.kind = 'category';
          if (['smoke', 'ht', 'ui', 'low'].includes(entry.name)) entry.kind = 'yes/no';
        }
      })
    ).body.id;
    const check = await client.get<ScreeningView>(
      `/api/studies/${study}/screenings/check?cohort=${cohort}&candidate=${logistic.id}`,
    );
    const treatment = (name: string) =>
      check.predictors.find((one) => one.name === name)!.treatment;
    expect(treatment('ptl')).toMatch(/not in the file: all 3 rows filled with the median 0/);
    expect(treatment('race')).toMatch(/1 with the new level "4": treated as not known/);
    expect(check.extraColumns).toEqual(['mother_id', 'low']);
    const scored = await client.send<{ id: string }>('POST', `/api/studies/${study}/screenings`, {
      cohort,
      candidate: logistic.id,
      // Race 4 is new and ptl is not there: no development patient was like that.
      accept: true,
      unchecked: true,
    });
    screening = scored.body.id;
    const view = await client.get<ScreeningView>(`/api/screenings/${screening}`);
    expect(view.known!.patients).toBe(2);
    expect(view.heldOut).not.toBeNull();
    const { rows } = await client.get<{ rows: ScreenedRow[] }>(
      `/api/screenings/${screening}/rows?from=0&count=10`,
    );
    expect(rows.map((row) => row.cells[0])).toEqual(['A1', 'C3', 'B2']);
    expect(rows.map((row) => row.rank)).toEqual([1, 2, 3]);
    expect(rows[0].risk).toBeGreaterThan(rows[1].risk!);
  });

  it('gives the call-in list as a CSV file', async () => {
    const response = await fetch(`${product.address}/api/screenings/${screening}/file`);
    expect(response.headers.get('content-disposition')).toMatch(
      /attachment; filename="call-in-list-patients.csv"/,
    );
    const lines = (await response.text()).trim().split('\r\n');
    expect(lines[0]).toBe(
      'patient,row in file,risk,call,hardly seen before,unusualness,unusual,reason 1,reason 2,reason 3,order of reasons,model,version,cutoff,scored at',
    );
    expect(lines[1]).toMatch(
      /^A1,1,0\.\d+,call in,ptl,0\.\d+,(yes|no)(,"?\w+( \(missing, imputed\))? (raises|lowers) it"?){3},certain,Logistic regression \d,\d+,0\.\d+,2\d+-.*Z$/,
    );
    expect(lines.length).toBe(4);
  });

  it('marks what a changed design leaves out of date, keeps it readable, and fits it again to the same numbers', async () => {
    const before = (await client.fitted(study))[1];
    const { choices } = await client.get<DesignState>(`/api/studies/${study}/design`);
    await client.changeDesign(study, { seed: 9 });
    const stale = (await client.fitted(study))[1];
    expect(stale.outOfDate).toBe(true);
    expect(stale.results).toEqual(before.results);
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [stale.id] });
    const refitted = (await client.fitted(study))[1];
    expect(refitted.outOfDate).toBe(false);
    expect(refitted.results).not.toEqual(before.results);
    await client.changeDesign(study, choices);
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [stale.id] });
    expect((await client.fitted(study))[1].results).toEqual(before.results);
  });

  it('changes no fit when only costs change, but the cutoff follows', async () => {
    const before = (await client.fitted(study))[1];
    await client.changeDesign(study, { missedCost: 40 });
    const after = (await client.fitted(study))[1];
    expect(after.outOfDate).toBe(false);
    expect(after.fittedAt).toBe(before.fittedAt);
    expect(after.results!.cutoff).toBeLessThan(before.results!.cutoff);
  });
});

async function rowsOf(from: number, count: number): Promise<{ rows: string[][] }> {
  const { developmentId } = await developmentCohort();
  return client.get(`/api/cohorts/${developmentId}/rows?from=${from}&count=${count}`);
}

async function developmentCohort(): Promise<{ developmentId: string }> {
  const { default: pg } = await import('pg');
  const database = new pg.Client({ connectionString: product.databaseUrl });
  await database.connect();
  const { rows } = await database.query<{ id: string }>(
    "select id from cohort where study_id = $1 and purpose = 'development'",
    [study],
  );
  await database.end();
  return { developmentId: rows[0].id };
}
