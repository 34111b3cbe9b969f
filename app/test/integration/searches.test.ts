import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Settings } from '@rook-scale/core/families';
import type { Corrected, SearchPlan } from '@rook-scale/core/search';
import type {
  HowLong,
  NestedShown,
  SearchDetail,
  SearchLine,
} from '../../src/contract/searches.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { inconsistencies } from '../support/check.ts';
import { Client, type Refusal } from '../support/client.ts';
import { onDatabase } from '../support/database.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';
import { searching } from '../support/searching.ts';

let product: FreshProduct;
let client: Client;
let study: string;
let {
  act,
  candidates,
  detailOf,
  done,
  lineOf,
  search: ask,
  until,
} = {} as ReturnType<typeof searching>;

beforeAll(async () => {
  product = await freshProduct({ demo: false, workers: 2 });
  client = new Client(product.address);
  study = await client.newStudy('Searches');
  await client.bringIn(study, birthWeight, 'development', asPublished);
  await client.changeDesign(study, { event: 'yes', missedCost: 4 });
  await client.fitted(study);
  ({ act, candidates, detailOf, done, lineOf, search: ask, until } = searching(client, study));
});
afterAll(() => product.stop());

const search = (plan: Partial<SearchPlan>, family = 'random-forest') => ask(plan, family);

const forest = { trees: [5, 10, 20], leastLeaf: [3, 8] };

describe('a search', () => {
  it('tells the best of all, where the worker that judged the last ones died before it could', async () => {
    const { body } = await search({ tried: { trees: [5, 30] } });
    const { best } = await done(body.id);
    // All is judged, and what was the best then is not told yet.
    await onDatabase(
      product.databaseUrl,
      `update search set state = 'running', ended_at = null, best = '{"settings": {"trees": 5}, "value": 0.01}',
        heartbeat_at = now() - interval '1 minute' where id = '${body.id}'`,
    );
    const again = await done(body.id);
    expect(again).toMatchObject({ state: 'done', best });
  });

  it('finds for each of its settings what a candidate with them has, and chooses', async () => {
    const { body } = await search({ tried: forest });
    const line = await done(body.id);
    expect(line).toMatchObject({ state: 'done', settings: 6, judged: 6, progress: 1 });
    const detail = await detailOf(body.id);
    expect(detail.varied).toEqual(['trees', 'leastLeaf']);
    expect(detail.trials.map(({ values }) => values)).toEqual([
      [5, 3],
      [5, 8],
      [10, 3],
      [10, 8],
      [20, 3],
      [20, 8],
    ]);
    const { best, simplest, asGood } = detail.choice!;
    const value = (number: number) => detail.trials[number].value!;
    expect(value(best)).toBe(Math.max(...detail.trials.map((trial) => trial.value!)));
    const reach = value(best) - detail.trials[best].error!;
    expect(asGood).toEqual(
      detail.trials.filter((trial) => trial.value! >= reach).map(({ number }) => number),
    );
    expect(asGood).toContain(simplest);
    expect(line.best).toMatchObject({ settings: { trees: detail.trials[best].values[0] } });

    const made = await act<{ id: string }>(body.id, 'choose', {
      trial: simplest,
      how: 'simplest',
      measure: 'auc',
    });
    const candidate = (await client.fitted(study)).find(({ id }) => id === made.body.id)!;
    expect(candidate.results!.area!.mean).toBeCloseTo(value(simplest), 5);
    const cost = (await detailOf(body.id, 'cost')).trials[simplest].value;
    expect(candidate.results!.costCrossFitted).toBeCloseTo(cost!, 2);
    expect(candidate.chosen).toEqual({
      how: 'simplest',
      search: line.name,
      among: 6,
      measure: 'AUC',
      searchId: body.id,
    });
    expect((await detailOf(body.id)).chosen).toEqual([
      { number: simplest, candidate: candidate.id, name: candidate.name },
    ]);
  });

  it('corrects what the best comes to for its having been chosen', async () => {
    const { body } = await search({ tried: forest });
    await done(body.id);
    const { trials, choice } = await detailOf(body.id);
    const corrected = await client.get<Corrected>(`/api/searches/${body.id}/corrected?measure=auc`);
    expect(corrected.value).toBeLessThan(corrected.uncorrected);
    expect(corrected.interval[0]).toBeLessThan(corrected.value);
    expect(corrected.interval[1]).toBeGreaterThan(corrected.value);
    // The mean of the folds is near the area of all of them together.
    expect(Math.abs(corrected.uncorrected - trials[choice!.best].value!)).toBeLessThan(0.05);
  });

  it('is checked by nested cross-validation on demand, and judges it anew by other measures', async () => {
    const { body } = await search({ tried: { trees: [5, 20], leastLeaf: [3, 8] } });
    const before = await done(body.id);
    const nested = (measure: string) =>
      client.get<NestedShown | null>(`/api/searches/${body.id}/nested?measure=${measure}`);
    expect((await detailOf(body.id)).nesting).toEqual({ asked: false, fits: 20 });
    expect(await nested('auc')).toBeNull();
    const plain = await detailOf(body.id);
    await act(body.id, 'nested');
    expect((await done(body.id)).state).toBe('done');
    const after = await detailOf(body.id);
    expect(after.nesting!.asked).toBe(true);
    // What was found out of fold is as it was.
    expect(after.trials).toEqual(plain.trials);
    expect((await lineOf(body.id)).best).toEqual(before.best);
    const found = (await nested('auc'))!;
    expect(found).toMatchObject({ among: 4 });
    expect(found.chosen).toHaveLength(5);
    expect(found.value).toBeGreaterThan(0.4);
    expect(found.value).toBeLessThan(0.8);
    expect((await nested('brier'))!.value).not.toBe(found.value);
    // Finer settings are fitted without two folds as well.
    await act(body.id, 'closer', { trial: 0 });
    await done(body.id);
    const { trials } = await detailOf(body.id);
    expect(trials.length).toBeGreaterThan(4);
    expect((await nested('auc'))!.among).toBe(trials.length);
    await client.changeDesign(study, { missedCost: 7 });
    await act(body.id, 'judge');
    await done(body.id);
    expect((await detailOf(body.id)).trials.every(({ value }) => value !== undefined)).toBe(true);
    await client.changeDesign(study, { missedCost: 4 });
  });

  it('is not nested where that makes no sense, and says so', async () => {
    const race = await search({ tried: forest, way: { kind: 'race' } });
    await done(race.body.id);
    expect((await detailOf(race.body.id)).nesting).toBeUndefined();
    const refused = await act(race.body.id, 'nested');
    expect([refused.status, refused.body.sentence]).toEqual([
      409,
      'Nested cross-validation is of settings that are all tried, in three folds or more that are dealt once.',
    ]);
  });

  it('looks closer at finer values, and fits only these', async () => {
    const { body } = await search({ tried: { trees: [10, 30], leastLeaf: [4, 10] } });
    await done(body.id);
    const before = await detailOf(body.id);
    const around = before.trials[0].number;
    expect((await act<{ added: number }>(body.id, 'closer', { trial: around })).body.added).toBe(3);
    await done(body.id);
    const after = await detailOf(body.id);
    expect(after.trials.slice(0, 4)).toEqual(before.trials);
    expect(after.trials.slice(4).map(({ values }) => values)).toEqual([
      [10, 7],
      [20, 4],
      [20, 7],
    ]);
    expect(after.trials.every(({ value }) => value !== undefined)).toBe(true);
  });

  describe('that is long', () => {
    const tried = { trees: [400, 800], leastLeaf: [2, 4, 6, 8, 10, 12, 14, 16] };
    let whole: SearchDetail;
    beforeAll(async () => {
      const { body } = await search({ tried });
      await done(body.id);
      whole = await detailOf(body.id);
    });

    it('is stopped with what there is, goes on, and comes to the same', async () => {
      const { body } = await search({ tried });
      await until(body.id, ({ judged }) => judged > 0);
      await act(body.id, 'stop');
      const stopped = await lineOf(body.id);
      expect(stopped.state).toBe('stopped');
      expect(stopped.judged).toBeGreaterThan(0);
      expect(stopped.judged).toBeLessThan(16);
      expect((await act(body.id, 'closer', { trial: 0 })).body.sentence).toMatch(
        /Look closer when/,
      );
      await act(body.id, 'go-on');
      await done(body.id);
      expect((await detailOf(body.id)).trials).toEqual(whole.trials);
    });

    it('survives killed workers, and comes to the same', async () => {
      const { body } = await search({ tried });
      await until(body.id, ({ judged }) => judged > 0);
      for (const worker of product.workers) process.kill(worker.pid, 'SIGKILL');
      expect((await done(body.id)).state).toBe('done');
      expect((await detailOf(body.id)).trials).toEqual(whole.trials);
      expect(await inconsistencies(product.databaseUrl)).toEqual([]);
    });
  });

  it('is refused with a sentence where it cannot be made', async () => {
    const refused: [Partial<SearchPlan>, string, RegExp][] = [
      [{ tried: {} }, 'random-forest', /one combination only/],
      [{ tried: { trees: [0, 5] } }, 'random-forest', /from 1 to/],
      [{ tried: forest, measure: 'luck' }, 'random-forest', /not compared by that/],
      [{ tried: forest }, 'linear', /cannot predict a yes or no/],
      [{ tried: { formula: ['a', 'b'] } }, 'todays-rule', /nothing to be searched/],
    ];
    for (const [plan, family, says] of refused) {
      const { status, body } = await search(plan, family);
      expect(status).toBeGreaterThanOrEqual(400);
      expect(status).toBeLessThan(500);
      expect(body.sentence).toMatch(says);
    }
    const { body } = await search({ tried: forest });
    await done(body.id);
    expect((await act(body.id, 'choose', { trial: 6, how: 'best', measure: 'auc' })).status).toBe(
      404,
    );
  });

  it('has costs enter the fits that depend on them, as candidates have', async () => {
    // Trees are pruned by what errors cost unless another is said.
    const tried = { leaves: [2, 4, 7], prunedBy: ['error costs', 'Brier score'] };
    const { body } = await search({ tried, fixed: { size: 'leaves' } }, 'decision-tree');
    await done(body.id);
    const { trials } = await detailOf(body.id);
    const made = new Map<number, string>();
    for (const { number } of trials) {
      const choice = { trial: number, how: 'by hand', measure: 'auc' };
      made.set(number, (await act<{ id: string }>(body.id, 'choose', choice)).body.id);
    }
    const fitted = await client.fitted(study);
    for (const { number, value } of trials) {
      const candidate = fitted.find(({ id }) => id === made.get(number))!;
      expect(candidate.results!.area!.mean).toBeCloseTo(value!, 5);
    }
    expect(new Set(trials.map(({ value }) => value)).size).toBeGreaterThan(2);
  });

  it('is told beforehand how long it takes, by a fit that leaves nothing behind', async () => {
    const ask = (part: Partial<SearchPlan>) =>
      client.send<HowLong & Refusal>('POST', `/api/studies/${study}/searches/how-long`, {
        family: 'random-forest',
        plan: { fixed: {}, way: { kind: 'all' }, measure: 'auc', tried: forest, ...part },
      });
    const before = await client.get<SearchLine[]>(`/api/studies/${study}/searches`);
    const { one, all, cores } = (await ask({})).body;
    // Two fits in five folds, for each gives all numbers of trees.
    expect(all).toBeCloseTo((10 * one) / cores, 6);
    expect(one).toBeGreaterThan(0);
    const drawn = (await ask({ way: { kind: 'drawn', count: 2 } })).body;
    expect(drawn.all / drawn.one).toBeLessThanOrEqual(10 / cores);
    expect((await ask({ tried: {} })).body.sentence).toMatch(/one combination only/);
    expect(await client.get(`/api/studies/${study}/searches`)).toEqual(before);
  });

  it('says which settings cannot be fitted, and why', async () => {
    const tried: Record<string, Settings[string][]> = { pooled: [0, 1] };
    const { body } = await search(
      { tried: tried as SearchPlan['tried'], fixed: { shape: 'quadratic' } },
      'discriminants',
    );
    expect((await done(body.id)).state).toBe('done');
    expect((await detailOf(body.id)).trials.every(({ value, problem }) => value ?? problem)).toBe(
      true,
    );
  });
});

describe('a search after a change', () => {
  it('is out of date on another design, and is begun anew there', async () => {
    const { body } = await search({ tried: forest });
    await done(body.id);
    const before = await detailOf(body.id);
    await client.changeDesign(study, { predictors: ['age', 'lwt', 'smoke'] });
    expect((await lineOf(body.id)).outOfDate).toBe(true);
    expect((await act(body.id, 'closer', { trial: 0 })).body.sentence).toMatch(
      /design has changed/,
    );
    await act(body.id, 'go-on');
    expect(await done(body.id)).toMatchObject({ state: 'done', outOfDate: false, judged: 6 });
    const after = await detailOf(body.id);
    expect(after.trials.map(({ values }) => values)).toEqual(
      before.trials.map(({ values }) => values),
    );
    expect(after.trials).not.toEqual(before.trials);
    await client.fitted(study);
  });

  it('is judged anew by other costs, without a fit', async () => {
    const { body } = await search({ tried: forest, measure: 'cost' });
    await done(body.id);
    const before = await detailOf(body.id, 'cost');
    const brier = await detailOf(body.id, 'brier');
    await client.changeDesign(study, { missedCost: 8, falseAlarmCost: 2 });
    expect(await lineOf(body.id)).toMatchObject({ otherCosts: true, outOfDate: false });
    await act(body.id, 'judge');
    expect(await done(body.id)).toMatchObject({ state: 'done', otherCosts: false });
    const after = await detailOf(body.id, 'cost');
    after.trials.forEach(({ value }, i) =>
      expect(value).toBeCloseTo(2 * before.trials[i].value!, 2),
    );
    expect((await detailOf(body.id, 'brier')).trials).toEqual(brier.trials);
  });

  it('is deleted and brought back; what was chosen from it stays', async () => {
    const { body } = await search({ tried: forest });
    const { name } = await done(body.id);
    const made = await act<{ id: string }>(body.id, 'choose', {
      trial: 1,
      how: 'by hand',
      measure: 'brier',
    });
    await client.send('DELETE', `/api/searches/${body.id}`);
    expect(await lineOf(body.id)).toBeUndefined();
    expect((await client.send('GET', `/api/searches/${body.id}?measure=auc`)).status).toBe(404);
    const deleted = await client.get<{ name: string; what: string }[]>('/api/deleted');
    expect(deleted).toContainEqual(expect.objectContaining({ what: 'search', name }));
    await act(body.id, 'restore');
    expect((await lineOf(body.id)).judged).toBe(6);
    await client.send('DELETE', `/api/searches/${body.id}`);
    await act(body.id, 'erase', { name });
    await client.fitted(study);
    const kept = (await candidates()).find(({ id }) => id === made.body.id)!;
    expect(kept.chosen).toMatchObject({ how: 'by hand', search: name });
    expect(kept.chosen).not.toHaveProperty('searchId');
    expect(await inconsistencies(product.databaseUrl)).toEqual([]);
  });
});
