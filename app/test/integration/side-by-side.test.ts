import Papa from 'papaparse';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Curves } from '@rook-scale/core/comparing';
import { randomStream } from '@rook-scale/core/numeric';
import { unpackBytes, unpackNumbers } from '../../src/browser/api.ts';
import type { CandidateLine, DifferingShown, Predictions } from '../../src/contract/candidates.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;
let study: string;
let cohort: string;

/** Made-up patients of whom each value is one alone, so that it is known who is meant. */
const draw = randomStream(21, 'patients side by side');
const patients = Array.from({ length: 320 }, (_, i) => {
  const [lactate, age] = [draw.normal(), draw.normal()];
  const ill = lactate + 0.8 * age ** 2 + draw.normal() > 1.6;
  return {
    id: `P${String(i).padStart(3, '0')}`,
    lactate: (2 + lactate).toFixed(6),
    age: (60 + 10 * age).toFixed(6),
    ward: i % 3 === 0 ? 'east' : 'west',
    days: (4 + 2 * lactate + draw.normal()).toFixed(3),
    ill: ill ? 'yes' : 'no',
  };
});

async function bringIn(name: string, outcome: string, design: object): Promise<[string, string]> {
  const id = await client.newStudy(name);
  const file = Papa.unparse(patients, { newline: '\n' });
  const { body } = await client.bringIn(id, file, 'development', (dictionary) => {
    for (const entry of dictionary)
      entry.role =
        entry.name === 'id'
          ? 'identifier'
          : entry.name === outcome
            ? 'outcome'
            : /^(lactate|age|ward)$/.test(entry.name)
              ? 'predictor'
              : 'set aside';
  });
  expect((await client.changeDesign(id, design)).status).toBe(200);
  return [id, body.id];
}

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
  [study, cohort] = await bringIn('Side by side', 'ill', { event: 'yes', missedCost: 5 });
  for (const family of ['logistic', 'decision-tree'])
    await client.send('POST', `/api/studies/${study}/candidates`, { family, settings: {} });
  await client.fitted(study);
});

const lines = (of = study) => client.get<CandidateLine[]>(`/api/studies/${of}/candidates`);
const curvesOf = (id: string) => client.get<Curves>(`/api/candidates/${id}/curves`);
const differing = (one: string, other: string) =>
  client.get<DifferingShown>(`/api/candidates/${one}/differing?with=${other}`);

async function toldBy({ id, results }: CandidateLine) {
  const packed = await client.get<Predictions>(`/api/candidates/${id}/predictions`);
  const scores = unpackNumbers(packed.risks);
  return {
    scores,
    events: unpackBytes(packed.events),
    called: Array.from(scores, (score) => score >= results!.cutoff),
  };
}

describe('curves of a candidate', () => {
  it('are of its out-of-fold risks: the least cost is that of its line, points are as counted', async () => {
    const [, one] = await lines();
    const { roc, precision, leastCost, share, calibration } = await curvesOf(one.id);
    const { scores, events } = await toldBy(one);
    const cases = events.reduce((sum, event) => sum + event, 0);
    expect(leastCost).toBeCloseTo(one.results!.costPerThousand, 9);
    expect(share).toBeCloseTo(cases / events.length, 12);
    const counted = Array.from(scores, (cutoff) => {
      const called = Array.from(scores.keys()).filter((i) => scores[i] >= cutoff);
      const found = called.filter((i) => events[i] === 1).length;
      return {
        roc: [(called.length - found) / (events.length - cases), found / cases],
        precision: [found / cases, found / called.length],
      };
    });
    const isAmong = (point: number[], all: number[][]) =>
      all.some((one) => Math.abs(one[0] - point[0]) + Math.abs(one[1] - point[1]) < 1e-9);
    expect(
      roc.slice(1).every((point) =>
        isAmong(
          point,
          counted.map((each) => each.roc),
        ),
      ),
    ).toBe(true);
    expect(
      precision.every((point) =>
        isAmong(
          point,
          counted.map((each) => each.precision),
        ),
      ),
    ).toBe(true);
    expect(calibration!.reduce((sum, group) => sum + group.patients, 0)).toBe(events.length);
  });

  it('have no calibration of numbers, and lie on their scale', async () => {
    const [other] = await bringIn('Numbers beside', 'days', {
      kind: 'number',
      caseFrom: 6,
      missedCost: 5,
    });
    await client.send('POST', `/api/studies/${other}/candidates`, {
      family: 'linear',
      settings: {},
    });
    const line = (await client.fitted(other)).at(-1)!;
    const { calibration, density, cost, leastCost } = await curvesOf(line.id);
    const { scores } = await toldBy(line);
    expect(calibration).toBeUndefined();
    expect(density.grid[0]).toBeCloseTo(Math.min(...scores), 9);
    expect(density.grid.at(-1)).toBeCloseTo(Math.max(...scores), 9);
    expect(leastCost).toBeCloseTo(line.results!.costPerThousand, 9);
    expect(Math.max(...cost.map(([cutoff]) => cutoff))).toBeLessThanOrEqual(Math.max(...scores));
  });
});

describe('whom only one of two candidates calls in', () => {
  it('are the patients by name, with both scores, counted by hand', async () => {
    const [, one, other] = await lines();
    const [a, b] = [await toldBy(one), await toldBy(other)];
    const found = await differing(one.id, other.id);
    const count = (isCase: number, first: boolean, second: boolean) =>
      Array.from(a.events).filter(
        (event, i) => event === isCase && a.called[i] === first && b.called[i] === second,
      ).length;
    const all = (isCase: number) => [
      count(isCase, true, true),
      count(isCase, true, false),
      count(isCase, false, true),
      count(isCase, false, false),
    ];
    expect([found.cases, found.others]).toEqual([all(1), all(0)]);
    const apart = Array.from(a.events.keys()).filter((i) => a.called[i] !== b.called[i]);
    expect(found.patients.length).toBe(apart.length);
    expect(apart.length).toBeGreaterThan(10);
    // Who each is, by the file itself: what happened, and the row that the page opens.
    for (const { row, name, isCase, calledBy, scores } of found.patients.slice(0, 12)) {
      const own = patients.find(({ id }) => id === name)!;
      expect(isCase).toBe(own.ill === 'yes');
      const { rows } = await client.get<{ rows: string[][] }>(
        `/api/cohorts/${cohort}/rows?from=${row}&count=1`,
      );
      expect(rows[0][0]).toBe(name);
      const called = [scores[0] >= one.results!.cutoff, scores[1] >= other.results!.cutoff];
      expect(called).toEqual(calledBy === 0 ? [true, false] : [false, true]);
    }
    // Cases first, and turned round the same patients.
    const cases = found.patients.map(({ isCase }) => isCase);
    expect(cases).toEqual(cases.toSorted((x, y) => Number(y) - Number(x)));
    const turned = await differing(other.id, one.id);
    expect(turned.patients.map(({ name }) => name)).toEqual(found.patients.map(({ name }) => name));
  });

  it('are told apart by the columns in which they differ most', async () => {
    const [, one, other] = await lines();
    const { apart, patients: listed } = await differing(one.id, other.id);
    // A straight line calls in by lactate alone, a tree by both ends of age too.
    const meanOf = (calledBy: number, column: 'age' | 'lactate') => {
      const own = listed.filter((patient) => patient.calledBy === calledBy);
      const values = own.map(({ name }) => Number(patients.find(({ id }) => id === name)![column]));
      return values.reduce((sum, value) => sum + value, 0) / values.length;
    };
    const age = apart.find(({ column }) => column === 'age')!;
    expect(age.of[0].mean).toBeCloseTo(meanOf(0, 'age'), 6);
    expect(age.of[1].mean).toBeCloseTo(meanOf(1, 'age'), 6);
    const sizes = apart.map(({ difference }) => Math.abs(difference!));
    expect(sizes).toEqual(sizes.toSorted((x, y) => y - x));
  });

  it('are refused across studies, and while nothing is fitted', async () => {
    const [, one] = await lines();
    const [other] = await bringIn('Elsewhere too', 'ill', { event: 'yes' });
    const [foreign] = await client.fitted(other);
    const across = await client.send<Refusal>(
      'GET',
      `/api/candidates/${one.id}/differing?with=${foreign.id}`,
    );
    expect(across.status).toBe(404);
    // With patients taken out, rows would be anybody's.
    const base = { duplicates: null, exclusions: [] };
    const mine = { ...base, exclusions: [{ condition: 'age > 75', reason: 'too old' }] };
    const taken = await client.send<Refusal>('PUT', `/api/cohorts/${cohort}/selection`, {
      base,
      mine,
    });
    expect(taken.status).toBe(200);
    const [, again, second] = await lines();
    const others = await client.send<Refusal>(
      'GET',
      `/api/candidates/${again.id}/differing?with=${second.id}`,
    );
    expect([others.status, others.body.sentence]).toEqual([
      409,
      'The patients have changed since these candidates were fitted. Fit them again to list who differs.',
    ]);
  });
});
