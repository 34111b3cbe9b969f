import { beforeAll, describe, expect, it } from 'vitest';
import Papa from 'papaparse';
import type { Design } from '@rook-scale/core/design';
import type { Predictions } from '../../src/contract/candidates.ts';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { AllocationBroughtIn, DesignState, SidesView } from '../../src/contract/designs.ts';
import type { HeldOutView, SealedView } from '../../src/contract/looks.ts';
import { inconsistencies } from '../support/check.ts';
import { Client, inRoles, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
});

const count = 320;

/** Made-up patients of eight wards, two of whom lie in the file for every third. */
const cells = Array.from({ length: count }, (_, i) => ({
  id: `P${String(i).padStart(3, '0')}`,
  ward: `W${i % 8}`,
  'seen on': new Date(Date.UTC(2024, 0, 1 + ((i * 37) % 500))).toISOString().slice(0, 10),
  age: String(40 + ((i * 7) % 41)),
  arm: i % 5 === 0 ? 'check' : 'learn',
  falls: (i * 13) % 10 < 3 ? 'yes' : 'no',
}));
const file = Papa.unparse(cells, { newline: '\n' });

async function newStudy(name: string, part: Partial<Design> = {}) {
  const study = await client.newStudy(name);
  const { id: cohort } = (
    await client.bringIn(
      study,
      file,
      'development',
      inRoles({
        id: 'identifier',
        falls: 'outcome',
        ward: 'set aside',
        'seen on': 'set aside',
        arm: 'set aside',
      }),
    )
  ).body;
  const { body } = await client.changeDesign(study, { event: 'yes', ...part });
  return { study, cohort, state: body };
}

/** A file that is sent, as rows under its head. */
async function sent(path: string): Promise<Record<string, string>[]> {
  const text = await (await fetch(product.address + path)).text();
  return Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true }).data;
}

const allocation = (study: string) => sent(`/api/studies/${study}/allocation`);

async function bringIn(study: string, content: string) {
  const { body } = await client.upload('sides.csv', content);
  return client.send<AllocationBroughtIn & Refusal>('POST', `/api/studies/${study}/allocation`, {
    uploadId: body.id,
  });
}

describe('who is on which side', () => {
  it('is taken out as a file, and brought into another study it gives the same division', async () => {
    const first = await newStudy('Taken out', { heldOutShare: 0.3, sealedShare: 0.1, seed: 5 });
    const rows = await allocation(first.study);
    expect(rows).toHaveLength(count);
    const of = (side: string) => rows.filter((row) => row.side === side);
    expect(of('development')).toHaveLength(first.state.counts!.development.patients);
    expect(of('held out')).toHaveLength(96);
    expect(of('sealed')).toHaveLength(32);
    expect(new Set(of('development').map(({ fold }) => fold))).toEqual(
      new Set(['1', '2', '3', '4', '5']),
    );
    const second = await newStudy('Brought in', { seed: 9 });
    const { body } = await bringIn(second.study, Papa.unparse([...rows].reverse()));
    expect(body).toMatchObject({ patients: count, folds: true });
    const after = await client.changeDesign(second.study, {
      split: { way: 'as brought in', allocation: body.id, name: body.name },
      folds: { way: 'as brought in' },
    });
    expect(after.body.counts).toEqual(first.state.counts);
    expect(await allocation(second.study)).toEqual(rows);
  });

  it('stands beside the patients in a file, where that is wished', async () => {
    const { study, cohort } = await newStudy('Marked');
    const rows = await allocation(study);
    const patients = await sent(`/api/cohorts/${cohort}/file?format=csv&side=all&marks=yes`);
    expect(patients.map(({ id, side, fold }) => ({ id, side, fold }))).toEqual(
      rows.map(({ id, side, fold }) => ({ id, side, fold })),
    );
    const heldOut = await sent(`/api/cohorts/${cohort}/file?format=csv&side=held%20out`);
    expect(heldOut.map(({ id }) => id)).toEqual(
      rows.filter(({ side }) => side === 'held out').map(({ id }) => id),
    );
    expect(heldOut[0]).not.toHaveProperty('side');
  });

  it.each([
    ['name,result\nP001,3\n', 'it needs a column “id” and a column “side”'],
    ['id,side\nP001,left\n', '“left” is no side'],
    ['id,side\nP001,sealed\nP001,development\n', 'says two things of P001'],
    ['id,side\nP001,\n', 'names no patient with a side'],
  ])('refuses a file that says something else: %j', async (content, sentence) => {
    const { study, state } = await newStudy('Refused');
    const { status, body } = await bringIn(study, content);
    expect(status).toBe(422);
    expect(body.sentence).toContain(sentence);
    expect((await client.get<DesignState>(`/api/studies/${study}/design`)).id).toBe(state.id);
  });
});

describe('the ways to set patients aside', () => {
  const wayOf: [string, Partial<Design>, (row: (typeof cells)[number]) => unknown][] = [
    ['by group', { split: { way: 'by group', column: 'ward' } }, (row) => row.ward],
    [
      'by column',
      { split: { way: 'by column', column: 'arm', heldOut: ['check'], sealed: [] } },
      (row) => row.arm,
    ],
    [
      'by date',
      { split: { way: 'by date', column: 'seen on', from: 20_000 } },
      (row) => Date.parse(row['seen on']) / 86_400_000 >= 20_000,
    ],
  ];
  it.each(wayOf)('%s: all who are alike in it are on one side', async (_, part, alike) => {
    const { study, state } = await newStudy('Ways', part);
    expect(state.obstacle).toBeNull();
    const rows = await allocation(study);
    const sides = new Map<unknown, Set<string>>();
    rows.forEach(({ side }, i) => {
      const key = alike(cells[i]);
      sides.set(key, (sides.get(key) ?? new Set()).add(side));
    });
    for (const [, found] of sides) expect(found.size).toBe(1);
    expect(new Set([...sides.values()].flatMap((one) => [...one])).size).toBe(2);
  });

  it('by rows, counted in the file also where others were left out', async () => {
    const { study, cohort } = await newStudy('Rows');
    const { selection } = await client.get<CohortInfo>(`/api/cohorts/${cohort}`);
    await client.send('PUT', `/api/cohorts/${cohort}/selection`, {
      base: selection,
      mine: { ...selection, exclusions: [{ condition: 'age < 45', reason: 'too young' }] },
    });
    await client.changeDesign(study, { split: { way: 'by rows', from: 201, to: 320 } });
    for (const { row, side } of await allocation(study))
      expect(side).toBe(Number(row) > 200 ? 'held out' : 'development');
  });

  it('what cannot be carried out is said, and the fits of before stay', async () => {
    const { study } = await newStudy('Obstacle');
    const { body } = await client.changeDesign(study, {
      split: { way: 'by group', column: 'ward' },
      folds: { way: 'by group', column: 'arm', count: 5 },
    });
    expect(body.obstacle).toContain('not enough for 5 folds');
    expect(body.divisionId).toBeNull();
    const mended = await client.changeDesign(study, {
      folds: { way: 'each group', column: 'ward' },
    });
    expect(mended.body.obstacle).toBeNull();
    expect(mended.body.counts!.folds!.length).toBeGreaterThan(3);
    const lines = await client.fitted(study);
    expect(lines[0].state).toBe('fitted');
  });

  it('shows both sides and who is where, as counted by hand', async () => {
    const { study } = await newStudy('Both sides');
    const view = await client.get<SidesView>(`/api/studies/${study}/sides`);
    const rows = await allocation(study);
    const ages = (side: string) =>
      cells.flatMap(({ age }, i) => (rows[i].side === side ? [Number(age)] : []));
    const moments = (values: number[]) => {
      const mean = values.reduce((sum, one) => sum + one, 0) / values.length;
      const squares = values.reduce((sum, one) => sum + (one - mean) ** 2, 0);
      return { mean, variance: squares / (values.length - 1) };
    };
    const [a, b] = [moments(ages('development')), moments(ages('held out'))];
    expect(view.balance[0].difference).toBeCloseTo(
      (b.mean - a.mean) / Math.sqrt((a.variance + b.variance) / 2),
      10,
    );
    const heldOut = view.spread.lanes.find(({ side }) => side === 'heldOut')!;
    expect(heldOut.patients.reduce((sum, one) => sum + one, 0)).toBe(80);
    expect(view.spread.lanes.filter(({ side }) => side === 'development')).toHaveLength(5);
  });
});

describe('the sealed patients', () => {
  it('open once, with one candidate, and what was seen stays', async () => {
    const { study } = await newStudy('Sealed', { sealedShare: 0.2 });
    await client.send('POST', `/api/studies/${study}/candidates`, {
      family: 'logistic',
      settings: {},
    });
    const lines = await client.fitted(study);
    const [reference, logistic] = lines;
    const path = `/api/studies/${study}/sealed`;
    expect(await client.get(path)).toBeNull();
    const open = (candidate: string) =>
      client.send<SealedView & Refusal>('POST', path, {
        candidate,
        reason: 'The candidate is settled.',
      });
    const silent = await client.send<Refusal>('POST', path, {
      candidate: logistic.id,
      reason: ' ',
    });
    expect(silent).toMatchObject({ status: 400 });
    expect(silent.body.sentence).toContain('why they are opened now');
    expect(await client.get(path)).toBeNull();
    const { body } = await open(logistic.id);
    expect(body.reason).toBe('The candidate is settled.');
    const risks = Buffer.from(body.predictions.risks, 'base64').length / 8;
    expect(risks).toBe(64);
    const again = await open(reference.id);
    expect(again.status).toBe(409);
    expect(again.body.sentence).toContain(`opened with ${logistic.name} already`);
    // The same once more is the same answer; another split and another fit change nothing of it.
    await client.changeDesign(study, { seed: 77 });
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [logistic.id] });
    await client.fitted(study);
    expect((await open(logistic.id)).body.predictions).toEqual(body.predictions);
    expect((await client.get<SealedView>(path)).at).toBe(body.at);
    // A look shows held-out patients alone.
    const look = await client.send<HeldOutView>('POST', `/api/studies/${study}/looks`, {
      candidate: logistic.id,
    });
    expect(Buffer.from(look.body.predictions.risks, 'base64').length / 8).toBe(80);
  });

  it('are not there for a candidate that was fitted before they were', async () => {
    const { study } = await newStudy('Nothing sealed');
    const [reference] = await client.fitted(study);
    const { status, body } = await client.send<Refusal>('POST', `/api/studies/${study}/sealed`, {
      candidate: reference.id,
      reason: 'Everything is settled.',
    });
    expect(status).toBe(409);
    expect(body.sentence).toContain('while no patients were sealed');
  });
});

describe('patients dealt into folds several times', () => {
  const split = { way: 'by rows', from: 241, to: count } as const;
  const dealt = (repeats?: number): Design['folds'] => ({
    way: 'by chance',
    count: 4,
    ...(repeats && { repeats }),
  });

  async function fitted(name: string, part: Partial<Design>) {
    const { study, state } = await newStudy(name, { split, missedCost: 3, ...part });
    const { body } = await client.send<{ id: string }>('POST', `/api/studies/${study}/candidates`, {
      family: 'logistic',
      settings: {},
    });
    const line = (await client.fitted(study)).find(({ id }) => id === body.id)!;
    const sent = await client.get<Predictions>(`/api/candidates/${body.id}/predictions`);
    const bytes = Buffer.from(sent.risks, 'base64');
    const risks = new Float64Array(bytes.buffer, bytes.byteOffset, bytes.length / 8);
    return { study, state, line, sent, risks: Array.from(risks) };
  }

  it('have the predictions of each time, and figures that are the mean of them', async () => {
    const hand = { rule: 'hand', cutoff: 0.3 } as const;
    const both = await fitted('Twice', { folds: dealt(2) });
    // The second time is the deal of another seed; who is held out goes by rows whatever the seed.
    const each = [
      await fitted('First', { folds: dealt() }),
      await fitted('Second', { folds: dealt(), seed: 1 + 104_729 }),
    ];
    expect(both.sent.times).toBe(2);
    expect(both.risks).toEqual(each.flatMap(({ risks }) => risks));
    expect(both.state.counts).toEqual(each[0].state.counts);
    const at = async ({ line, study }: (typeof each)[number]) => {
      await client.send('PUT', `/api/candidates/${line.id}/cutoff`, hand);
      return (await client.fitted(study)).find(({ id }) => id === line.id)!.results!;
    };
    const [mean, one, two] = [await at(both), await at(each[0]), await at(each[1])];
    expect(mean.costPerThousand).toBeCloseTo((one.costPerThousand + two.costPerThousand) / 2, 9);
    expect(mean.table.found).toBe((one.table.found + two.table.found) / 2);
    expect(mean.area!.mean).toBeCloseTo((one.area!.mean + two.area!.mean) / 2, 9);
    expect(mean.area!.least).toBe(Math.min(one.area!.least, two.area!.least));
    // The list of who is where names the first deal, and the parts of the fit are those of both.
    expect(await allocation(both.study)).toEqual(await allocation(each[0].study));
    expect(both.line).toMatchObject({ partsDone: 9, partsTotal: 9 });
    expect(await inconsistencies(product.databaseUrl)).toEqual([]);
  });

  it('make what was fitted out of date, and as they were before it is current again', async () => {
    const { study } = await fitted('There and back', { folds: dealt() });
    const outOfDate = async () => (await client.fitted(study)).at(-1)!.outOfDate;
    await client.changeDesign(study, { folds: dealt(3) });
    expect(await outOfDate()).toBe(true);
    await client.changeDesign(study, { folds: dealt() });
    expect(await outOfDate()).toBe(false);
  });

  it('are refused more folds than can be told apart', async () => {
    const { study } = await newStudy('Too many', { split });
    const { choices } = await client.get<DesignState>(`/api/studies/${study}/design`);
    const { status, body } = await client.send<Refusal>('PUT', `/api/studies/${study}/design`, {
      base: choices,
      mine: { ...choices, folds: { way: 'by chance', count: 50, repeats: 20 } },
    });
    expect(status).toBe(400);
    expect(body.sentence).toContain('Folds times repeats are 250 at most');
  });
});
