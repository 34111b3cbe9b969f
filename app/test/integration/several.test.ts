import { beforeAll, describe, expect, it } from 'vitest';
import { familyDescriptions } from '@rook-scale/core/families';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;
let study: string;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
  study = await client.newStudy('Several');
  await client.bringIn(study, birthWeight, 'development', asPublished);
  await client.changeDesign(study, { event: 'yes', missedCost: 4 });
  await client.fitted(study);
});

const several = (families: string[]) =>
  client.send<Refusal & { ids: string[] }>('POST', `/api/studies/${study}/candidates/several`, {
    families,
  });
const lines = () => client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
const named = (id: string, words: { name?: string; note?: string; group?: string }) =>
  client.send<Partial<Refusal>>('PATCH', `/api/candidates/${id}`, words);

describe('several candidates at once', () => {
  it('are one of each family, with the settings that one alone would have', async () => {
    const families = ['naive-bayes', 'decision-tree', 'naive-bayes', 'logistic'];
    const { status, body } = await several(families);
    expect(status).toBe(200);
    const fitted = await client.fitted(study);
    const own = body.ids.map((id) => fitted.find((line) => line.id === id)!);
    expect(own.map(({ family }) => family)).toEqual(['naive-bayes', 'decision-tree', 'logistic']);
    expect(own.map(({ number }) => number)).toEqual([1, 2, 3]);
    expect(own.every(({ state }) => state === 'fitted')).toBe(true);
    await client.send('POST', `/api/studies/${study}/candidates`, {
      family: 'decision-tree',
      settings: {},
    });
    const alone = (await client.fitted(study)).at(-1)!;
    expect(own[1].settings).toEqual(alone.settings);
    expect(own[1].results).toEqual(alone.results);
  });

  it('are all made or none: an unknown family, one that is written, one that cannot predict this', async () => {
    const before = (await lines()).length;
    const refused = [
      { families: ['logistic', 'nothing of the kind'], says: /There is no model family/ },
      { families: ['logistic', 'todays-rule'], says: /has no usual settings/ },
      { families: ['logistic', 'linear'], says: /cannot predict a yes or no/ },
      { families: [], says: /Choose at least one family/ },
    ];
    for (const { families, says } of refused) {
      const { status, body } = await several(families);
      expect(status).toBeGreaterThanOrEqual(400);
      expect(status).toBeLessThan(500);
      expect(body.sentence).toMatch(says);
    }
    expect((await lines()).length).toBe(before);
  });

  it('may be of every family that can predict this', async () => {
    const able = familyDescriptions.filter(
      ({ id, outcomes, orderedOnly, fixed, composed }) =>
        id !== 'reference' && outcomes.includes('event') && !orderedOnly && !fixed && !composed,
    );
    const { body } = await several(able.map(({ id }) => id));
    const fitted = await client.fitted(study);
    const own = fitted.filter(({ id }) => body.ids.includes(id));
    expect(own.map(({ family }) => family)).toEqual(able.map(({ id }) => id));
    expect(own.filter(({ state }) => state !== 'fitted')).toEqual([]);
  });
});

describe('the words of a candidate', () => {
  it('are a name of its own, which everything then says, and a note', async () => {
    const [, one, other] = await lines();
    const note = 'Agreed with the ward.\nNot before spring.';
    expect((await named(one.id, { name: '  The plain one ', note })).status).toBe(200);
    const now = (await lines()).find(({ id }) => id === one.id)!;
    expect([now.name, now.note]).toEqual(['The plain one', note]);
    const model = await client.get<{ candidate: string }>(`/api/candidates/${one.id}/model`);
    // The fit was made under another name: the file says what it was called then.
    expect(model.candidate).toBe(one.name);
    // The name alone is changed, and an empty one gives the first one back.
    await named(one.id, { name: '' });
    const back = (await lines()).find(({ id }) => id === one.id)!;
    expect([back.name, back.note]).toEqual([one.name, note]);
    expect((await lines()).find(({ id }) => id === other.id)!.note).toBe('');
    // So is a group: what is absent stays, and an empty one takes it out.
    expect(back.group).toBe('');
    await named(one.id, { group: ' Ward round ' });
    await named(one.id, { note: 'Another note.' });
    const grouped = (await lines()).find(({ id }) => id === one.id)!;
    expect([grouped.group, grouped.note]).toEqual(['Ward round', 'Another note.']);
    await named(one.id, { group: '' });
    expect((await lines()).find(({ id }) => id === one.id)!.group).toBe('');
    const long = await named(one.id, { group: 'x'.repeat(61) });
    expect(long.body.sentence).toMatch(/60 characters/);
  });

  it('are refused where another has the name, where it is too long, and for the reference', async () => {
    const [reference, one, other] = await lines();
    const taken = await named(one.id, { name: other.name });
    expect([taken.status, taken.body.sentence]).toEqual([
      409,
      `Another candidate of this study is called ${other.name}. Give this one another name.`,
    ]);
    const kept = await named(one.id, { name: 'Naive Bayes 99' });
    expect(kept.body.sentence).toMatch(/is what another candidate may be called by itself/);
    expect((await named(one.id, { name: 'Naive Bayes of ward 9' })).status).toBe(200);
    await named(one.id, { name: '' });
    // Its own name is no other's.
    expect((await named(one.id, { name: one.name })).status).toBe(200);
    expect((await named(one.id, { name: 'x'.repeat(81) })).body.sentence).toMatch(/80 characters/);
    expect((await named(reference.id, { name: 'Mine' })).body.sentence).toMatch(/keeps its name/);
    expect((await named(reference.id, { note: 'To be beaten.' })).status).toBe(200);
    expect((await lines())[0].note).toBe('To be beaten.');
  });
});
