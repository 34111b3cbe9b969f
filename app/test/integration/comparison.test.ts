import { beforeAll, describe, expect, it } from 'vitest';
import type { Compared } from '@rook-scale/core/comparing';
import { unpackBytes, unpackNumbers } from '../../src/browser/api.ts';
import type { CandidateLine, Predictions } from '../../src/contract/candidates.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;
let study: string;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
  study = await client.newStudy('Compared');
  await client.bringIn(study, birthWeight, 'development', asPublished);
  await client.changeDesign(study, { event: 'yes', missedCost: 4 });
  for (const family of ['logistic', 'naive-bayes'])
    await client.send('POST', `/api/studies/${study}/candidates`, { family, settings: {} });
  await client.fitted(study);
});

const lines = () => client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
const compared = (one: string, other: string) =>
  client.get<Compared>(`/api/candidates/${one}/comparison?with=${other}`);
const refused = (one: string, other: string) =>
  client.send<Refusal>('GET', `/api/candidates/${one}/comparison?with=${other}`);

/** Called in and cases, patient by patient, as the page has them. */
async function callsOf({ id, results }: CandidateLine) {
  const packed = await client.get<Predictions>(`/api/candidates/${id}/predictions`);
  const scores = unpackNumbers(packed.risks);
  return {
    events: unpackBytes(packed.events),
    called: [...scores].map((score) => score >= results!.cutoff),
  };
}

describe('two candidates compared', () => {
  it('have the figures of their lines, and the calls counted by hand', async () => {
    const [, one, other] = await lines();
    const { measures, patients, onlyRight } = await compared(one.id, other.id);
    const cost = measures.find(({ id }) => id === 'cost')!;
    expect(cost.values[0]).toBeCloseTo(one.results!.costPerThousand, 9);
    expect(cost.values[1]).toBeCloseTo(other.results!.costPerThousand, 9);
    expect(cost.difference).toBeCloseTo(cost.values[0] - cost.values[1], 9);
    const [own, theirs] = [await callsOf(one), await callsOf(other)];
    expect(own.events.length).toBe(patients);
    const right = (calls: typeof own, i: number) => calls.called[i] === (own.events[i] === 1);
    const only = (a: typeof own, b: typeof own) =>
      a.called.filter((_, i) => right(a, i) && !right(b, i)).length;
    expect(onlyRight).toEqual([only(own, theirs), only(theirs, own)]);
    // Turned round, and asked again, they say the same.
    const turned = await compared(other.id, one.id);
    expect(turned.onlyRight).toEqual(onlyRight!.toReversed());
    expect(await compared(one.id, other.id)).toEqual(await compared(one.id, other.id));
  });

  it('follow the cutoff that is chosen, and what errors cost', async () => {
    const [, one, other] = await lines();
    await client.send('PUT', `/api/candidates/${one.id}/cutoff`, { rule: 'hand', cutoff: 0 });
    const { measures } = await compared(one.id, other.id);
    const everybody = Object.fromEntries(measures.map(({ id, values }) => [id, values[0]]));
    expect([everybody.sensitivity, everybody.specificity]).toEqual([1, 0]);
    await client.changeDesign(study, { missedCost: 9 });
    const [, now] = await lines();
    const again = await compared(one.id, other.id);
    expect(again.measures[0].values[0]).toBeCloseTo(now.results!.costPerThousand, 9);
    await client.send('PUT', `/api/candidates/${one.id}/cutoff`, { rule: 'cheapest' });
  });

  it('are refused across studies, before a fit, and when dealt otherwise', async () => {
    const [, one, other] = await lines();
    const elsewhere = await client.newStudy('Elsewhere');
    await client.bringIn(elsewhere, birthWeight, 'development', asPublished);
    await client.changeDesign(elsewhere, { event: 'yes' });
    const [foreign] = await client.fitted(elsewhere);
    expect((await refused(one.id, foreign.id)).status).toBe(404);
    expect((await refused(one.id, 'nobody')).status).toBe(400);
    const { choices } = await client.get<DesignState>(`/api/studies/${study}/design`);
    await client.changeDesign(study, { seed: choices.seed + 1 });
    await client.fitted(study);
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [other.id] });
    await client.fitted(study);
    const { status, body } = await refused(one.id, other.id);
    expect([status, body.sentence]).toEqual([
      409,
      `${one.name} and ${other.name} were not fitted on the same patients and folds. Fit both again to compare them.`,
    ]);
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [one.id] });
    await client.fitted(study);
    expect((await refused(one.id, other.id)).status).toBe(200);
  });
});
