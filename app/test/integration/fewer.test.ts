import { beforeAll, describe, expect, it } from 'vitest';
import type { FewerPlan } from '@rook-scale/core/search';
import { fewerPlanSchema } from '@rook-scale/core/search';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import type { HowLong } from '../../src/contract/searches.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { inconsistencies } from '../support/check.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';
import { searching } from '../support/searching.ts';

let product: LaneProduct;
let client: Client;
let study: string;
let own: ReturnType<typeof searching>;
let predictors: string[];

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
  study = await client.newStudy('Fewer predictors');
  await client.bringIn(study, birthWeight, 'development', asPublished);
  await client.changeDesign(study, { event: 'yes', missedCost: 4 });
  await client.fitted(study);
  own = searching(client, study);
  predictors = (await client.get<DesignState>(`/api/studies/${study}/design`)).choices.predictors;
});

const planOf = (part: Partial<FewerPlan>) => fewerPlanSchema.parse({ way: 'backward', ...part });
const select = (part: Partial<FewerPlan>, family = 'logistic', basis?: object) =>
  own.search({ fewer: planOf({ halves: 0, ...part }) }, family, basis);
const chosen = async (id: string, trial: number, how = 'by hand'): Promise<CandidateLine> => {
  const made = await own.act<{ id: string }>(id, 'choose', { trial, how, measure: 'auc' });
  if (!made.body.id) throw new Error(made.body.sentence);
  return (await client.fitted(study)).find((line) => line.id === made.body.id)!;
};

describe('fewer predictors', () => {
  it('are compared by their number, and the best and the simplest as good are told', async () => {
    const { body } = await select({ halves: 6 });
    const line = await own.done(body.id);
    const count = predictors.length;
    expect(line).toMatchObject({ state: 'done', settings: count, judged: count, progress: 1 });
    const { trials, varied, choice, selection } = await own.detailOf(body.id);
    expect(varied).toEqual(['predictors']);
    expect(trials.map(({ values }) => values)).toEqual(
      Array.from({ length: count }, (_, i) => [count - i]),
    );
    const value = (number: number) => trials[number].value!;
    expect(value(choice!.best)).toBe(Math.max(...trials.map((trial) => trial.value!)));
    expect(choice!.simplest).toBe(Math.max(...choice!.asGood));
    expect(trials.every(({ error, development }) => error! > 0 && development! > 0.5)).toBe(true);

    expect(selection!.predictors).toEqual(predictors);
    expect(selection!.sets!.map((set) => set.length)).toEqual(
      trials.map(({ values }) => values[0]),
    );
    for (const { of, times } of [selection!.folds!, selection!.halves!]) {
      expect([5, 6]).toContain(of);
      // Of all predictors each is there each time; of one there is one each time.
      expect(times.every((each) => each[0] === of)).toBe(true);
      const sum = times.reduce((all, each) => all + each[count - 1], 0);
      expect(sum).toBe(of);
    }
  });

  it('become a candidate in one act, which says how they were chosen', async () => {
    const { body } = await select({ way: 'path' });
    const line = await own.done(body.id);
    const { trials, selection } = await own.detailOf(body.id);
    const three = trials.findIndex(({ values }) => values[0] === 3);
    const candidate = await chosen(body.id, three, 'simplest');
    expect(candidate.uses).toEqual(selection!.sets![three]);
    expect(candidate.basis).toEqual({ own: selection!.sets![three] });
    expect(candidate.outOfDate).toBe(false);
    expect(candidate.chosen).toMatchObject({
      how: 'simplest',
      search: line.name,
      measure: 'AUC',
      fewer: { way: 'path' },
    });
    expect(candidate.chosen!.fewer!.inside!.value).toBeCloseTo(trials[three].value!, 5);
    // Chosen on all patients, its folds know a little of whom they predict; all of them together are the usual.
    const all = await chosen(body.id, 0);
    expect(all.basis).toEqual({});
    expect(all.results!.area!.mean).toBeCloseTo(trials[0].value!, 5);
    const made = (await own.detailOf(body.id)).chosen;
    expect(made.map(({ number, candidate: id }) => [number, id])).toEqual([
      [three, candidate.id],
      [0, all.id],
    ]);
  });

  it('in sets of the analyst’s own are what candidates with them are', async () => {
    const sets = [
      { name: 'history', predictors: ['ptl', 'ht', 'ui'] },
      { name: 'mother', predictors: ['age', 'lwt', 'race', 'smoke'] },
    ];
    for (const family of ['logistic', 'random-forest']) {
      const { body } = await select({ way: 'sets', sets }, family);
      await own.done(body.id);
      const { trials, varied, selection } = await own.detailOf(body.id);
      expect(varied).toEqual(['set']);
      expect(trials.map(({ values }) => values[0])).toEqual(['history', 'mother']);
      expect(selection!.sets).toHaveLength(2);
      for (const { number, value } of trials)
        expect((await chosen(body.id, number)).results!.area!.mean).toBeCloseTo(value!, 5);
    }
  });

  it('keeps what is pinned, and selects from the kept predictors it is told to', async () => {
    const basis = { own: ['age', 'lwt', 'smoke', 'ht'] };
    const { body } = await select({ way: 'forward', most: 2, pinned: ['age'] }, 'linear', basis);
    // A number is not what this study predicts.
    expect(body.id).toBeUndefined();
    const ask = await select({ way: 'forward', most: 2, pinned: ['age'] }, 'logistic', basis);
    await own.done(ask.body.id);
    const { selection, trials } = await own.detailOf(ask.body.id);
    expect(trials.map(({ values }) => values[0])).toEqual([4, 2, 1]);
    expect(selection!.predictors.toSorted()).toEqual(['age', 'ht', 'lwt', 'smoke']);
    expect(selection!.sets!.every((set) => set.includes('age'))).toBe(true);
    expect((await chosen(ask.body.id, 0)).basis).toEqual(basis);
  });

  it('stopped and gone on with come to what they would have', async () => {
    const plan = { way: 'left out' as const, halves: 12 };
    const whole = await select(plan);
    await own.done(whole.body.id);
    const broken = await select(plan);
    await own.until(broken.body.id, ({ progress }) => progress > 0.1);
    await own.act(broken.body.id, 'stop');
    const stopped = await own.lineOf(broken.body.id);
    expect(stopped.state).toBe('stopped');
    await own.act(broken.body.id, 'go-on');
    expect((await own.done(broken.body.id)).state).toBe('done');
    const [one, other] = [await own.detailOf(whole.body.id), await own.detailOf(broken.body.id)];
    expect(other.trials).toEqual(one.trials);
    expect(other.selection).toEqual(one.selection);
  });

  it('are judged by other costs without a fit', async () => {
    const { body } = await select({ way: 'path' });
    await own.done(body.id);
    const before = (await own.detailOf(body.id, 'cost')).trials.map(({ value }) => value);
    await client.changeDesign(study, { missedCost: 9 });
    expect((await own.lineOf(body.id)).otherCosts).toBe(true);
    await own.act(body.id, 'judge');
    await own.done(body.id);
    const after = await own.detailOf(body.id, 'cost');
    expect(after.trials.map(({ value }) => value)).not.toEqual(before);
    const all = await chosen(body.id, 0);
    expect(all.results!.costCrossFitted).toBeCloseTo(after.trials[0].value!, 2);
    await client.changeDesign(study, { missedCost: 4 });
  });

  it('are selected anew where the design has others', async () => {
    const { body } = await select({ way: 'path' });
    await own.done(body.id);
    const some = predictors.filter((name) => name !== 'age');
    await client.changeDesign(study, { predictors: some });
    const line = await own.lineOf(body.id);
    expect(line.outOfDate).toBe(true);
    await own.act(body.id, 'go-on');
    expect(await own.done(body.id)).toMatchObject({ state: 'done', settings: some.length });
    const { selection, trials } = await own.detailOf(body.id);
    expect(selection!.predictors).toEqual(some);
    expect(trials[0].values).toEqual([some.length]);
    await client.changeDesign(study, { predictors });
  });

  it('are refused in a sentence where there is nothing to select', async () => {
    const sentence = async (asked: ReturnType<typeof select>) => {
      const { status, body } = await asked;
      expect(status).toBeGreaterThanOrEqual(400);
      return body.sentence;
    };
    expect(await sentence(select({ pinned: ['bodyweight'] }))).toContain('“bodyweight”');
    expect(await sentence(select({ pinned: predictors }))).toContain('nothing to select');
    expect(await sentence(select({}, 'reference'))).toContain('nothing to be searched');
    expect(await sentence(select({}, 'logistic', { own: ['nobody'] }))).toContain('“nobody”');
    const both = own.search({ fewer: planOf({}), tried: { trees: [5, 10] } }, 'random-forest');
    expect(await sentence(both as never)).toContain('one value of each setting');
    const { body } = await select({ way: 'path' });
    await own.done(body.id);
    const closer = await own.act(body.id, 'closer', { trial: 1 });
    expect(closer.body.sentence).toContain('Only settings');
  });

  it('tells about how long it takes, and keeps nothing', async () => {
    const before = await client.get<unknown[]>(`/api/studies/${study}/searches`);
    const { body } = await client.send<HowLong>('POST', `/api/studies/${study}/searches/how-long`, {
      family: 'logistic',
      plan: {
        fixed: {},
        tried: {},
        way: { kind: 'all' },
        measure: 'auc',
        fewer: planOf({ way: 'left out' }),
      },
    });
    expect(body.all).toBeGreaterThan(20 * body.one);
    expect(await client.get<unknown[]>(`/api/studies/${study}/searches`)).toEqual(before);
  });

  it('leaves nothing in the database that does not fit together', async () => {
    expect(await inconsistencies(product.databaseUrl)).toEqual([]);
  });
});

describe('predictors of a candidate’s own', () => {
  const add = (basis: object) =>
    client.send<Refusal & { id: string }>('POST', `/api/studies/${study}/candidates`, {
      family: 'logistic',
      settings: {},
      basis,
    });
  const line = async (id: string) => (await client.fitted(study)).find((one) => one.id === id)!;

  it('stand beside those of the design, and go out of date where one is none any more', async () => {
    const { body } = await add({ own: ['lwt', 'ht'] });
    expect((await line(body.id)).uses).toEqual(['lwt', 'ht']);
    // Others of the design may change: it does not look at them.
    await client.changeDesign(study, { predictors: predictors.filter((name) => name !== 'age') });
    expect((await line(body.id)).outOfDate).toBe(false);
    await client.changeDesign(study, { predictors: predictors.filter((name) => name !== 'ht') });
    expect((await line(body.id)).outOfDate).toBe(true);
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [body.id] });
    const refused = await line(body.id);
    expect([refused.state, refused.problem ?? '']).toEqual([
      'failed',
      expect.stringContaining('“ht” is not among the predictors'),
    ]);
    await client.changeDesign(study, { predictors });
  });

  it('are refused where they are no predictors', async () => {
    const { status, body } = await add({ own: ['lwt', 'shoe size'] });
    expect([status, body.sentence]).toEqual([
      409,
      '“shoe size” is not among the predictors of the design any more.',
    ]);
  });
});

describe('more patients', () => {
  const grow = (family = 'logistic', part: object = {}) =>
    own.search({ growing: { steps: 5 }, ...part }, family);

  it('are compared by their number, all of them as a candidate is fitted', async () => {
    const { body } = await grow();
    const line = await own.done(body.id);
    expect(line).toMatchObject({ state: 'done', settings: 5, judged: 5, progress: 1 });
    const { trials, varied, growth, choice } = await own.detailOf(body.id);
    expect(varied).toEqual(['patients']);
    const sizes = trials.map(({ values }) => Number(values[0]));
    expect(sizes).toEqual(sizes.toSorted((a, b) => a - b));
    const { choices, counts } = await client.get<DesignState>(`/api/studies/${study}/design`);
    expect(choices.folds).toBeDefined();
    expect(sizes.at(-1)).toBe(Math.round(0.8 * counts!.development.patients));
    // None of them is to be chosen.
    expect(choice).toBeUndefined();
    expect(growth!.patients).toBe(sizes.at(-1));
    expect(growth!.interval[0]).toBeLessThanOrEqual(growth!.gain);
    const alone = await client.fitted(study);
    const whole = alone.find(
      (one) => one.family === 'logistic' && !one.basis.own && !one.outOfDate,
    )!;
    expect(trials.at(-1)!.value).toBeCloseTo(whole.results!.area!.mean, 5);
    const refused = await own.act(body.id, 'choose', { trial: 1, how: 'by hand', measure: 'auc' });
    expect(refused.body.sentence).toContain('fitted on all patients');
  });

  it('are drawn anew on another design, and judged by other costs', async () => {
    const { body } = await grow();
    await own.done(body.id);
    await client.changeDesign(study, { heldOutShare: 0.4 });
    expect((await own.lineOf(body.id)).outOfDate).toBe(true);
    await own.act(body.id, 'go-on');
    expect((await own.done(body.id)).state).toBe('done');
    const { counts } = await client.get<DesignState>(`/api/studies/${study}/design`);
    const { trials } = await own.detailOf(body.id);
    expect(trials.at(-1)!.values).toEqual([Math.round(0.8 * counts!.development.patients)]);
    await client.changeDesign(study, { heldOutShare: 0.25 });
  });

  it('are refused where there is nothing to be learned', async () => {
    const { body } = await grow('reference');
    expect(body.sentence).toContain('nothing to be searched');
    const both = await grow('random-forest', { tried: { trees: [5, 10] } });
    expect(both.body.sentence).toContain('one value of each setting');
  });
});
