import Papa from 'papaparse';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Corrected, SearchPlan } from '@rook-scale/core/search';
import { searchMeasures } from '@rook-scale/core/search';
import { randomStream } from '@rook-scale/core/numeric';
import type { QueueView } from '../../src/contract/queue.ts';
import type { SearchDetail, SearchLine } from '../../src/contract/searches.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
});

/** Made-up patients: two labs tell, one does not. */
function patients(count: number): string {
  const draw = randomStream(count, 'searched patients');
  const rows = Array.from({ length: count }, (_, i) => {
    const [lactate, age, pulse] = [draw.normal(), draw.normal(), draw.normal()];
    const days = 4 + 2 * lactate + age ** 2 + draw.normal();
    return {
      id: `P${i}`,
      lactate: lactate.toFixed(3),
      age: (60 + 10 * age).toFixed(1),
      pulse: (80 + 9 * pulse).toFixed(0),
      price: String(1 + (i % 5)),
      days: days.toFixed(2),
      grade: days > 7 ? 'high' : days > 4.5 ? 'middle' : 'low',
      ill: days > 6 ? 'yes' : 'no',
    };
  });
  return Papa.unparse(rows, { newline: '\n' });
}

async function studyOf(count: number, outcome: string, design: object): Promise<string> {
  const study = await client.newStudy(`${outcome} of ${count}`);
  await client.bringIn(study, patients(count), 'development', (dictionary) => {
    for (const entry of dictionary) {
      if (/^(lactate|age|pulse)$/.test(entry.name)) entry.role = 'predictor';
      else entry.role = 'set aside';
      if (entry.name === 'id') entry.role = 'identifier';
      if (entry.name === outcome) entry.role = 'outcome';
      if (entry.name === 'grade') {
        entry.kind = 'ordered category';
        entry.levels = ['low', 'middle', 'high'];
      }
    }
  });
  const { status } = await client.changeDesign(study, design);
  expect(status).toBe(200);
  await client.fitted(study);
  return study;
}

async function searched(study: string, family: string, part: Partial<SearchPlan>) {
  const plan = { fixed: {}, way: { kind: 'all' }, measure: 'cost', ...part };
  const { body } = await client.send<Refusal & { id: string }>(
    'POST',
    `/api/studies/${study}/searches`,
    { family, plan },
  );
  if (!body.id) throw new Error(body.sentence);
  return { id: body.id, line: await done(study, body.id) };
}

async function done(study: string, id: string): Promise<SearchLine> {
  for (let i = 0; i < 900; i++) {
    const lines = await client.get<SearchLine[]>(`/api/studies/${study}/searches`);
    const line = lines.find((one) => one.id === id)!;
    if (line.state !== 'waiting' && line.state !== 'running') return line;
    await new Promise((resolve) => setTimeout(resolve, 60));
  }
  throw new Error('Not searched in time.');
}

const detailOf = (id: string, measure: string) =>
  client.get<SearchDetail>(`/api/searches/${id}?measure=${encodeURIComponent(measure)}`);

/** Every setting as a candidate of its own, and each of these measures of both. */
async function beside(
  study: string,
  id: string,
  measures: Record<string, (line: never) => unknown>,
) {
  const { trials } = await detailOf(id, Object.keys(measures)[0]);
  const made: string[] = [];
  for (const { number } of trials) {
    const body = { trial: number, how: 'by hand', measure: 'cost' };
    made.push(
      (await client.send<{ id: string }>('POST', `/api/searches/${id}/choose`, body)).body.id,
    );
  }
  const lines = await client.fitted(study);
  const found: { measure: string; tried: number; alone: number }[] = [];
  for (const [measure, of] of Object.entries(measures)) {
    const detail = await detailOf(id, measure);
    detail.trials.forEach(({ value }, i) => {
      const line = lines.find((one) => one.id === made[i])!;
      found.push({ measure, tried: value!, alone: of(line as never) as number });
    });
  }
  return found;
}

interface Line {
  results: {
    costCrossFitted: number;
    area: { mean: number };
    figures: Record<string, { value: number }>;
  };
}
const cost = ({ results }: Line) => results.costCrossFitted;
const area = ({ results }: Line) => results.area.mean;
const figure = (id: string) => (line: Line) => line.results.figures[id].value;

function expectSame(found: { measure: string; tried: number; alone: number }[]) {
  for (const { measure, tried, alone } of found)
    expect.soft(tried / alone, measure).toBeCloseTo(1, 4);
}

describe('a search', () => {
  it('compares settings for several levels by every measure that candidates have', async () => {
    const study = await studyOf(240, 'grade', {
      kind: 'levels',
      reference: 'low',
      cases: ['high'],
      missedCost: 3,
      levelCosts: {
        levels: ['low', 'middle', 'high'],
        costs: [
          [0, 1, 2],
          [2, 0, 1],
          [5, 2, 0],
        ],
      },
    });
    const { id, line } = await searched(study, 'nearest-patients', {
      tried: { neighbours: [2, 8, 25], distance: ['euclidean', 'manhattan'] },
      fixed: { neighboursBy: 'given' },
      measure: 'log loss',
    });
    expect(line).toMatchObject({ state: 'done', settings: 6 });
    const levels = ['log loss', 'weighted kappa', 'right level', 'level cost'];
    expectSame(
      await beside(study, id, {
        cost,
        auc: area,
        ...Object.fromEntries(levels.map((one) => [one, figure(one)])),
      }),
    );
    for (const { id: measure } of searchMeasures.levels) {
      const corrected = await client.get<Corrected>(
        `/api/searches/${id}/corrected?measure=${encodeURIComponent(measure)}`,
      );
      expect(corrected.interval[0]).toBeLessThanOrEqual(corrected.value);
      expect(corrected.interval[1]).toBeGreaterThanOrEqual(corrected.value);
    }
    const unknown = await client.send<Refusal>('GET', `/api/searches/${id}?measure=brier`);
    expect(unknown.body.sentence).toMatch(/not compared by that/);
  });

  it('compares settings for a number, with folds that were dealt several times', async () => {
    const study = await studyOf(200, 'days', {
      kind: 'number',
      caseFrom: 6,
      missedCost: 3,
      folds: { way: 'by chance', count: 4, repeats: 2 },
    });
    const { id, line } = await searched(study, 'boosted-trees', {
      tried: { trees: [10, 40], depth: [1, 3] },
      fixed: { until: 'all' },
      measure: 'rmse',
    });
    expect(line.state).toBe('done');
    const numbers = ['rmse', 'mae', 'r squared'];
    expectSame(
      await beside(study, id, {
        cost,
        auc: area,
        ...Object.fromEntries(numbers.map((one) => [one, figure(one)])),
      }),
    );
    const corrected = await client.get<Corrected>(`/api/searches/${id}/corrected?measure=rmse`);
    expect(Math.abs(corrected.value - corrected.uncorrected)).toBeLessThan(0.5);
  });

  it('counts what errors cost each patient, where they have costs of their own', async () => {
    const study = await studyOf(200, 'ill', { event: 'yes', missedCost: 4 });
    await client.changeDesign(study, { ownCosts: { missed: 'price', falseAlarm: '' } });
    await client.fitted(study);
    const { id } = await searched(study, 'random-forest', {
      tried: { trees: [5, 15], leastLeaf: [3, 9] },
    });
    expectSame(await beside(study, id, { cost, auc: area }));
  });

  it('is a race on large cohorts: a third goes on to three times as many patients', async () => {
    const study = await studyOf(4000, 'ill', { event: 'yes', missedCost: 4 });
    const { id, line } = await searched(study, 'boosted-trees', {
      tried: { depth: [1, 2, 3], learningRate: [0.02, 0.1, 0.5], trees: [10, 30] },
      fixed: { until: 'all' },
      way: { kind: 'race' },
      measure: 'brier',
    });
    expect(line).toMatchObject({ state: 'done', rounds: 3, round: 3, share: 1, progress: 1 });
    const { trials, choice } = await detailOf(id, 'brier');
    const reached = (round: number) => trials.filter((trial) => trial.round >= round);
    expect([0, 1, 2].map((round) => reached(round).length)).toEqual([18, 6, 2]);
    expect(trials[choice!.best].round).toBe(2);
    expect(line.best!.value).toBeCloseTo(Math.min(...reached(2).map(({ value }) => value!)), 6);
    // What reached all patients is what a candidate of its own has.
    const body = { trial: choice!.best, how: 'best', measure: 'brier' };
    const made = await client.send<{ id: string }>('POST', `/api/searches/${id}/choose`, body);
    const fitted = (await client.fitted(study)).find((one) => one.id === made.body.id)!;
    const { trials: byArea } = await detailOf(id, 'auc');
    expect(fitted.results!.area!.mean).toBeCloseTo(byArea[choice!.best].value!, 5);
  });

  it('draws so many settings by the seed of the design, and stands in the queue while it works', async () => {
    const study = await studyOf(600, 'ill', { event: 'yes' });
    const plan: Partial<SearchPlan> = {
      tried: { trees: [400, 800], leastLeaf: [2, 3, 4, 5, 6, 7, 8, 9], depth: [3, 5, 8, 12] },
      way: { kind: 'drawn', count: 9 },
    };
    const waiting = searched(study, 'random-forest', plan);
    let seen: QueueView['searches'] = [];
    while (seen.length === 0) seen = (await client.get<QueueView>('/api/queue')).searches;
    expect(seen[0]).toMatchObject({ studyId: study, search: 'Random forest 1, search' });
    const [first, second] = [await waiting, await searched(study, 'random-forest', plan)];
    const [one, other] = await Promise.all([first, second].map(({ id }) => detailOf(id, 'auc')));
    expect(one.trials).toHaveLength(9);
    expect(one.trials).toEqual(other.trials);
    expect((await client.get<QueueView>('/api/queue')).searches).toEqual([]);
    const page = await fetch(`${product.address}/studies/${study}/candidates?search=${first.id}`);
    expect(await page.text()).toContain('9 combinations compared');
  });

  it('is ended with its study, and is there again, stopped, when that is brought back', async () => {
    const study = await studyOf(600, 'ill', { event: 'yes' });
    const plan = {
      tried: { trees: [2000, 3000], leastLeaf: [2, 3, 4, 5, 6, 7, 8, 9] },
      fixed: {},
      way: { kind: 'all' },
      measure: 'auc',
    };
    const { body } = await client.send<{ id: string }>('POST', `/api/studies/${study}/searches`, {
      family: 'random-forest',
      plan,
    });
    await client.send('DELETE', `/api/studies/${study}`);
    expect((await client.send('GET', `/api/searches/${body.id}?measure=auc`)).status).toBe(404);
    await client.send('POST', `/api/studies/${study}/restore`);
    const [line] = await client.get<SearchLine[]>(`/api/studies/${study}/searches`);
    expect(line.state).toBe('stopped');
    expect(line.judged).toBeLessThan(16);
  });
});
