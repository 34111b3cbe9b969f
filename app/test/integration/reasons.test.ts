import { beforeAll, describe, expect, it } from 'vitest';
import { unpackNumbers } from '../../src/browser/api.ts';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type { HeldOutView } from '../../src/contract/looks.ts';
import type { OnTheWhole } from '@rook-scale/core/reasons';
import type {
  EffectView,
  OverTwoView,
  ReasonsView,
  RulesView,
  WorthView,
} from '../../src/contract/reasons.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';
import { liverStudy } from '../support/liver-study.ts';

let product: LaneProduct;
let client: Client;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
});

async function fit(study: string, family: string, rest: object = {}): Promise<CandidateLine> {
  const path = `/api/studies/${study}/candidates`;
  const { body } = await client.send<{ id: string }>('POST', path, {
    ...{ family, settings: {} },
    ...rest,
  });
  return (await client.fitted(study)).find(({ id }) => id === body.id)!;
}

const worthOf = (id: string) => client.get<WorthView>(`/api/candidates/${id}/reasons/worth`);

async function workedOut(id: string, together: string[][] = []): Promise<WorthView> {
  const path = `/api/candidates/${id}/reasons/worth`;
  expect((await client.send('POST', path, { together })).status).toBe(200);
  for (;;) {
    const view = await worthOf(id);
    if (view.state === 'there') expect(view.done).toBe(view.total);
    if (view.state !== 'waiting') return view;
    await new Promise((go) => setTimeout(go, 200));
  }
}

const own = { basis: { own: ['bili', 'age', 'sex', 'protime'] } };

describe.each([
  ['dead4y', 'logistic'],
  ['stage', 'multinomial'],
  ['albumin', 'linear'],
] as const)('reasons of a candidate that predicts %s', (column, family) => {
  let study: string;
  let line: CandidateLine;
  beforeAll(async () => {
    study = await liverStudy(client, `Reasons, ${column}`, column);
    line = await fit(study, family, own);
  });

  it('say what its predictors are worth, out of fold, once they were asked for', async () => {
    expect((await worthOf(line.id)).state).toBe('none');
    const view = await workedOut(line.id, [['bili', 'protime']]);
    expect(view).toMatchObject({ state: 'there', times: 5, done: 5, total: 5 });
    const [cost] = view.worths!;
    // As they are they are judged as in the table of candidates.
    if (cost.measure === 'cost') expect(cost.plain).toBeCloseTo(line.results!.costPerThousand, 8);
    const area = view.worths!.find(({ measure }) => measure === 'area')!;
    expect(area.groups.map(({ name }) => name).toSorted()).toEqual(
      [...own.basis.own, 'bili + protime'].toSorted(),
    );
    const bilirubin = area.groups.find(({ name }) => name === 'bili')!;
    if (column === 'dead4y') expect(bilirubin.interval![0]).toBeGreaterThan(0);
    expect(Math.max(...area.groups.map(({ value }) => value))).toBeGreaterThan(0);
    // The same again is the same answer; other groups are asked about anew.
    const again = await client.send('POST', `/api/candidates/${line.id}/reasons/worth`, {
      together: [['bili', 'protime']],
    });
    expect(again.status).toBe(200);
    expect(await worthOf(line.id)).toEqual(view);
    const without = await workedOut(line.id);
    const alone = without.worths!.find(({ measure }) => measure === 'area')!;
    expect(alone.groups.find(({ name }) => name === 'bili')).toEqual(bilirubin);
    expect(alone.groups).toHaveLength(4);
  });

  it('say how it acts along a number and along levels', async () => {
    const effect = (name: string) =>
      client.get<EffectView>(`/api/candidates/${line.id}/reasons/effect?name=${name}`);
    const along = await effect('bili');
    expect(along.accumulated).toBeDefined();
    const { development } = (
      await client.get<{ design: { counts: { development: { patients: number } } } }>(
        `/api/studies/${study}`,
      )
    ).design.counts;
    expect(along.patients).toBe(development.patients);
    expect(along.bands.reduce((sum, { patients }) => sum + patients, 0)).toBe(
      development.patients - along.unknown,
    );
    const [least, most] = [along.mean[0], along.mean.at(-1)!];
    // More bilirubin: more deaths and later stages, less albumin.
    if (column === 'albumin') expect(most).toBeLessThan(least);
    else expect(most).toBeGreaterThan(least);
    const levels = await effect('sex');
    expect(levels.at).toHaveLength(2);
    expect(levels.levels).toHaveLength(2);
  });

  it('say what it says over two predictors, in rules and on the whole', async () => {
    const get = <T>(rest: string) => client.get<T>(`/api/candidates/${line.id}/reasons/${rest}`);
    const { map } = await get<OverTwoView>('two?across=bili&up=age');
    const kinds = { dead4y: 'event', stage: 'levels', albumin: 'number' };
    expect(map!.predicted.kind).toBe(kinds[column]);
    const width = map!.predicted.levels?.length ?? 1;
    expect(map!.predicted.values).toHaveLength(30 * 20 * width);
    const rules = await get<RulesView>('rules');
    const { alike, calledAlone, treeAlone } = rules.faithful;
    expect(alike + calledAlone + treeAlone).toBe(rules.patients);
    expect(alike / rules.patients).toBeGreaterThan(0.7);
    const whole = await get<OnTheWhole>('whole');
    expect(whole.predictors.map(({ name }) => name).toSorted()).toEqual(own.basis.own.toSorted());
    const sizes = whole.predictors.map(({ size }) => size);
    expect(sizes).toEqual(sizes.toSorted((a, b) => b - a));
    expect(['bili', 'protime']).toContain(whole.predictors[0].name);
  });

  it('add up to what is said of one patient, and are those of the model', async () => {
    const rows = [0, 1, 2, 3, 199, 200, 259];
    const found = await Promise.all(
      rows.map((row) =>
        client.send<ReasonsView & Refusal>(
          'GET',
          `/api/candidates/${line.id}/reasons/patient?row=${row}`,
        ),
      ),
    );
    const seen = found.filter(({ status }) => status === 200);
    expect(seen).toHaveLength(5);
    for (const { body } of seen) {
      expect(body.side).toBe('development');
      const sum = body.contributions.reduce((total, { value }) => total + value, body.base);
      // A regression of log-odds is a sum of these, one of several levels is no sum.
      expect(body.scale).toBe(column === 'dead4y' ? 'log-odds' : 'said');
      expect(body.way).toBe(column === 'stage' ? 'all sets' : 'own sum');
      const said = body.scale === 'said' ? sum : 1 / (1 + Math.exp(-sum));
      expect(said).toBeCloseTo(body.said, 9);
      expect(body.contributions.map(({ name }) => name)).toEqual(
        own.basis.own.toSorted((a, b) => line.uses.indexOf(a) - line.uses.indexOf(b)),
      );
      expect(body.similar).toHaveLength(10);
      expect(body.similar.map(({ row }) => row)).not.toContain(body.row);
      const distances = body.similar.map(({ distance }) => distance);
      expect(distances).toEqual(distances.toSorted((a, b) => a - b));
    }
    // What is said of those held out is not told before a look.
    const hidden = found.filter(({ status }) => status !== 200);
    for (const { body } of hidden) expect(body.code).toBe('not-looked');
  });
});

describe('reasons', () => {
  it('of a held-out patient are told after the look, and say what the look says', async () => {
    const study = await liverStudy(client, 'Held out', 'dead4y');
    const line = await fit(study, 'random-forest', { settings: { trees: 40 }, ...own });
    const ask = (row: number) =>
      client.send<ReasonsView & Refusal>(
        'GET',
        `/api/candidates/${line.id}/reasons/patient?row=${row}`,
      );
    const all = Array.from({ length: 20 }, (_, i) => 190 + i);
    const before = await Promise.all(all.map(ask));
    const heldOut = all.filter((_, i) => before[i].status === 409);
    expect(heldOut).toEqual(all.filter((row) => row >= 200));
    const { body } = await client.send<HeldOutView>('POST', `/api/studies/${study}/looks`, {
      candidate: line.id,
    });
    const risks = unpackNumbers(body.predictions.risks);
    for (const [k, row] of heldOut.entries()) {
      const { body: told } = await ask(row);
      expect(told.side).toBe('held out');
      expect(told.said).toBeCloseTo(risks[k], 9);
    }
    expect((await ask(100_000)).status).toBe(404);
  });

  it('are those of the groups that were asked for last, whatever was at work', async () => {
    const study = await liverStudy(client, 'Asked twice', 'dead4y');
    const line = await fit(study, 'random-forest', { settings: { trees: 100 }, ...own });
    const path = `/api/candidates/${line.id}/reasons/worth`;
    await client.send('POST', path, { together: [['bili', 'age']] });
    await expect.poll(async () => (await worthOf(line.id)).total).toBe(5);
    const view = await workedOut(line.id, [['sex', 'protime']]);
    for (const { groups } of view.worths!)
      expect(groups.map(({ name }) => name)).toContain('sex + protime');
    expect(view.together).toEqual([['sex', 'protime']]);
  });

  it('are forgotten with the fit that they are of', async () => {
    const study = await liverStudy(client, 'Fitted again', 'dead4y');
    const line = await fit(study, 'decision-tree', own);
    expect((await workedOut(line.id)).state).toBe('there');
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [line.id] });
    await client.fitted(study);
    expect((await worthOf(line.id)).state).toBe('none');
  });

  it('follow what a case is, though the same patients were asked about before', async () => {
    const study = await liverStudy(client, 'Other cases', 'stage');
    const line = await fit(study, 'multinomial', own);
    const told = async (name: string) => {
      const path = `/api/candidates/${line.id}/reasons/effect?name=${name}`;
      const { bands } = await client.get<EffectView>(path);
      const patients = bands.reduce((sum, band) => sum + band.patients, 0);
      const mean = (of: 'said' | 'observed') =>
        bands.reduce((sum, band) => sum + band.patients * band[of]!, 0) / patients;
      return { said: mean('said'), observed: mean('observed') };
    };
    const first = await told('bili');
    // Of all patients the same is said, whichever predictor they are told apart by.
    expect((await told('age')).said).toBeCloseTo(first.said, 9);
    const { design } = await client.get<{ design: { choices: { cases: string[] } } }>(
      `/api/studies/${study}`,
    );
    const { cases } = design.choices;
    await client.changeDesign(study, { cases: [...cases, 'stage 3'] });
    const wider = await told('bili');
    expect(wider.observed).toBeGreaterThan(first.observed + 0.1);
    // A regression with an own constant says on the whole what happened.
    for (const one of [first, wider]) expect(one.said).toBeCloseTo(one.observed, 2);
    await client.changeDesign(study, { cases });
    expect(await told('bili')).toEqual(first);
  });

  it('of what looks at nothing, or is not there, are refused in a sentence', async () => {
    const study = await liverStudy(client, 'No reasons', 'dead4y');
    const [reference] = await client.fitted(study);
    const line = await fit(study, 'logistic', own);
    const path = (id: string, rest: string) => `/api/candidates/${id}/reasons/${rest}`;
    const unknown = await client.send<Refusal>('GET', path(line.id, 'effect?name=chol'), undefined);
    expect(unknown).toMatchObject({ status: 404 });
    expect(unknown.body.sentence).toContain('The predictor chol');
    const one = await client.send<Refusal>('POST', path(line.id, 'worth'), {
      together: [['bili']],
    });
    expect(one.body.sentence).toContain('Choose two predictors or more');
    const view = await workedOut(reference.id);
    for (const { groups } of view.worths!) for (const { value } of groups) expect(value).toBe(0);
  });
});
