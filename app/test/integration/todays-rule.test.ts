import Papa from 'papaparse';
import { beforeAll, describe, expect, it } from 'vitest';
import { facetOf } from '@rook-scale/core/families';
import { ratesOf } from '@rook-scale/core/measures';
import type { CandidateDetail } from '../../src/contract/candidates.ts';
import type { HeldOutView } from '../../src/contract/looks.ts';
import type { ScreeningView } from '../../src/contract/screenings.ts';
import type { PatientAnswer, PatientSheet } from '../../src/contract/patients.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;
let study: string;

const mothers = Papa.parse<Record<string, string>>(birthWeight.trim(), { header: true }).data;
const isCalled = ({ lwt, smoke }: Record<string, string>) => Number(lwt) < 120 && smoke === '1';

const rule = (formula: string, family = 'todays-rule') =>
  client.send<{ id: string } & Refusal>('POST', `/api/studies/${study}/candidates`, {
    family,
    settings: { formula },
  });
const fittedLine = async (id: string) =>
  (await client.fitted(study)).find((line) => line.id === id)!;
const ask = (id: string, values: Record<string, number | string | null>) =>
  client.send<PatientAnswer & Refusal>('POST', `/api/candidates/${id}/patient`, { values });

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
  study = await client.newStudy('What the ward does now');
  await client.bringIn(study, birthWeight, 'development', asPublished);
  await client.changeDesign(study, { event: 'yes', missedCost: 4 });
});

describe('the rule of today as a candidate', () => {
  let id: string;

  it('is judged on the same patients as every model, by its own answers', async () => {
    id = (await rule('lwt < 120 and smoke')).body.id;
    const { results, name, warnings } = await fittedLine(id);
    expect(name).toBe('Today’s rule 1');
    expect(warnings).toEqual([]);
    const look = await client.send<HeldOutView>('POST', `/api/studies/${study}/looks`, {
      candidate: id,
    });
    const heldOut = look.body.predictions;
    const bytes = (text: string) => Buffer.from(text, 'base64');
    const risks = [...new Float64Array(new Uint8Array(bytes(heldOut.risks)).buffer)];
    const rates = ratesOf(results!.table);
    // Development and held-out patients together are the file: its four counts are theirs.
    const count = (called: boolean, low: string) =>
      mothers.filter((one) => isCalled(one) === called && one.low === low).length;
    const found = [...bytes(heldOut.events)].filter((event, i) => event === 1 && risks[i] === 1);
    expect(rates.sensitivity.count + found.length).toBe(count(true, '1'));
    const spared = [...bytes(heldOut.events)].filter((event, i) => event === 0 && risks[i] === 0);
    expect(rates.specificity.count + spared.length).toBe(count(false, '0'));
    expect(new Set(risks)).toEqual(new Set([0, 1]));
    const detail = await client.get<CandidateDetail>(`/api/candidates/${id}`);
    const { answers, formula } = facetOf(detail.facets, 'rule')!;
    expect(formula).toBe('lwt < 120 and smoke');
    const of = (value: string) => answers.find(({ answer }) => answer === value)!;
    expect(of('yes').patients + risks.filter((risk) => risk === 1).length).toBe(
      mothers.filter(isCalled).length,
    );
  });

  it('calls a later list in as the rule says, and scores nobody of whom it says nothing', async () => {
    const later = mothers.slice(0, 30).map(({ low: _, bwt: __, ...one }, row) => ({
      ...one,
      lwt: row === 3 ? '' : one.lwt,
    }));
    const cohort = (await client.bringIn(study, Papa.unparse(later), 'screening')).body.id;
    const made = await client.send<{ id: string }>('POST', `/api/studies/${study}/screenings`, {
      cohort,
      candidate: id,
      unchecked: true,
    });
    expect(made.status).toBe(200);
    const view = await client.get<ScreeningView>(`/api/screenings/${made.body.id}`);
    const expected = later.filter((one) => one.lwt !== '' && isCalled(one)).length;
    expect([view.calls.called, view.unscored, view.unfamiliarPatients]).toEqual([expected, 1, 0]);
    const withoutSmoke = Papa.unparse(later, {
      columns: ['age', 'lwt', 'race', 'ptl', 'ht', 'ui', 'ftv'],
    });
    const lacking = (await client.bringIn(study, withoutSmoke, 'screening')).body.id;
    const refused = await client.send<Refusal>('POST', `/api/studies/${study}/screenings`, {
      cohort: lacking,
      candidate: id,
    });
    expect([refused.status, refused.body.code]).toEqual([422, 'needed-absent']);
    expect(refused.body.sentence).toMatch(/^Smoke must be known/);
  });

  it('answers of one patient, and says what must be known', async () => {
    const sheet = await client.get<PatientSheet>(`/api/candidates/${id}/sheet`);
    expect(sheet.sources.map(({ name }) => name)).toEqual(['lwt', 'smoke']);
    expect((await ask(id, { lwt: 110, smoke: 'yes' })).body.score).toBe(1);
    const heavy = (await ask(id, { lwt: 130, smoke: 'yes' })).body;
    expect(heavy.score).toBe(0);
    const byWeight = heavy.changes.find(({ name }) => name === 'lwt')!.options;
    for (const { value, score } of byWeight) expect(score).toBe(Number(Number(value) < 120));
    const unknown = (await ask(id, { lwt: null, smoke: 'yes' })).body;
    expect(unknown.score).toBeUndefined();
    expect(unknown.lacking).toEqual(['Lwt']);
    expect((await ask(id, { lwt: 'x'.repeat(10_001) })).status).toBe(400);
  });

  it('may be a column as it is, or a risk', async () => {
    const column = (await rule('smoke')).body.id;
    const share = (await rule('min(1, age / 50)')).body.id;
    await client.fitted(study);
    const { predictors } = await client.get<PatientSheet>(`/api/candidates/${column}/sheet`);
    expect(predictors.map(({ name, formula }) => [name, formula])).toEqual([['smoke', undefined]]);
    expect((await ask(share, { age: 20 })).body.score).toBeCloseTo(0.4, 12);
    expect((await fittedLine(share)).results!.area).toBeDefined();
  });

  it.each([
    ['low', /reads Low, which is what is to be predicted/],
    ['low or smoke', /reads Low/],
    ['lwt', /gives numbers from 80 to 250/],
    ['lwt <', /./],
    ['nowhere > 3', /nowhere/],
    ['', /choose a column/],
  ])('refuses %s in a sentence, and makes no candidate', async (formula, why) => {
    const before = (await client.fitted(study)).length;
    const { status, body } = await rule(formula);
    expect(status).toBeGreaterThanOrEqual(400);
    expect(status).toBeLessThan(500);
    expect(body.sentence).toMatch(why);
    expect((await client.fitted(study)).length).toBe(before);
  });

  it('leaves models compared with each other alone: nested ones by their likelihoods', async () => {
    const body = { family: 'logistic', settings: {} };
    const path = `/api/studies/${study}/candidates`;
    const large = (await client.send<{ id: string }>('POST', path, body)).body.id;
    await client.fitted(study);
    await client.changeDesign(study, { predictors: ['lwt', 'smoke'] });
    const small = (await client.send<{ id: string }>('POST', path, body)).body.id;
    await client.fitted(study);
    const detailOf = (one: string) => client.get<CandidateDetail>(`/api/candidates/${one}`);
    const [ofLarge, ofSmall] = [await detailOf(large), await detailOf(small)];
    const logLikelihood = ({ facets }: CandidateDetail) =>
      facetOf(facets, 'likelihood')!.logLikelihood;
    const [seen] = ofSmall.nested;
    expect([seen.id, seen.larger, seen.degrees]).toEqual([large, true, ofLarge.inputs.length - 2]);
    expect(seen.chiSquare).toBeCloseTo(2 * (logLikelihood(ofLarge) - logLikelihood(ofSmall)), 9);
    expect(ofLarge.nested.map((one) => [one.id, one.larger])).toEqual([[small, false]]);
    // Of other patients, nothing is compared.
    await client.changeDesign(study, { seed: 7 });
    const other = (await client.send<{ id: string }>('POST', path, body)).body.id;
    await client.fitted(study);
    expect((await detailOf(other)).nested).toEqual([]);
    await client.changeDesign(study, { seed: 1 });
  });

  it('stands beside several levels and beside a number', async () => {
    await client.changeDesign(study, {
      outcome: 'race',
      kind: 'levels',
      reference: '1',
      cases: ['3'],
    });
    const level = (await rule("if(age < 20, '3', '1')")).body.id;
    const judged = (await fittedLine(level)).results!;
    expect(ratesOf(judged.table).sensitivity.total).toBeGreaterThan(0);
    expect((await rule("if(age < 20, 'grave', '1')")).body.sentence).toMatch(/gives grave/);
    // A risk is no level: asked to be fitted again, it says so, and keeps what it was.
    const [share] = (await client.fitted(study)).filter(
      ({ settings }) => settings.formula === 'min(1, age / 50)',
    );
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [share.id] });
    const again = await fittedLine(share.id);
    expect(again.state).toBe('failed');
    expect(again.problem).toBe('The rule must give one of the levels: 1, 2, 3.');
    expect(again.outcome!.choice.kind).toBe('event');
    const answer = (await ask(level, { age: 18 })).body;
    expect(answer.shares!.map(({ share }) => share)).toEqual([0, 0, 1]);
    await client.changeDesign(study, { outcome: 'lwt', kind: 'number', caseFrom: 150 });
    const number = (await rule('100 + age')).body.id;
    await fittedLine(number);
    expect((await ask(number, { age: 30 })).body.score).toBe(130);
  });
});
