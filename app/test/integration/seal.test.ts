import Papa from 'papaparse';
import { beforeAll, describe, expect, it } from 'vitest';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type { DesignState, SidesView } from '../../src/contract/designs.ts';
import type { HeldOutView, Look, SealedView } from '../../src/contract/looks.ts';
import type { CheckBeforeScoring, ScreeningView } from '../../src/contract/screenings.ts';
import type { Act, Overview } from '../../src/contract/studies.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
/** One who agrees to whatever is asked, and one who agrees to nothing. */
let client: Client;
let careful: Client;
let study: string;
let cohort: string;
let counts: NonNullable<DesignState['counts']>;

const [header, ...mothers] = birthWeight.trim().split('\n');
const numbered = [`id,${header}`, ...mothers.map((row, i) => `M${i + 1},${row}`)].join('\n');
type Row = Record<string, string>;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
  careful = new Client(product.address, false);
  study = await client.newStudy('Seal');
  cohort = (
    await client.bringIn(study, numbered, 'development', (dictionary) => {
      asPublished(dictionary.slice(1));
      dictionary[0].role = 'identifier';
    })
  ).body.id;
  const { body } = await client.changeDesign(study, {
    ...{ event: 'yes', missedCost: 4, heldOutShare: 0.3, sealedShare: 0.3 },
  });
  counts = body.counts!;
  for (const family of ['logistic', 'decision-tree'])
    await client.send('POST', `/api/studies/${study}/candidates`, { family, settings: {} });
  await client.fitted(study);
});

const lines = async (): Promise<CandidateLine[]> => (await client.fitted(study)).slice(1);
const table = async (query: string) => {
  const response = await fetch(`${product.address}/api/cohorts/${cohort}/file?format=csv${query}`);
  return Papa.parse<Row>(await response.text(), { header: true, skipEmptyLines: true }).data;
};
const view = (id: string) => client.get<ScreeningView>(`/api/screenings/${id}`);

async function scored(text: string, candidate: string, isNamed = true): Promise<ScreeningView> {
  const list = await client.bringIn(study, text, 'screening', (dictionary) => {
    asPublished(isNamed ? dictionary.slice(1) : dictionary);
    if (isNamed) dictionary[0].role = 'identifier';
  });
  const { body } = await client.send<{ id: string }>('POST', `/api/studies/${study}/screenings`, {
    ...{ cohort: list.body.id, candidate, accept: true, unchecked: true },
  });
  return view(body.id);
}

describe('the file of patients', () => {
  it('leaves out the outcomes of sealed patients, whatever is asked for, until they are opened', async () => {
    expect(counts.sealed!.patients).toBeGreaterThan(30);
    const all = await table('&marks=yes');
    const sealed = all.filter(({ side }) => side === 'sealed');
    expect(sealed).toHaveLength(counts.sealed!.patients);
    for (const row of all) expect(row.low === '').toBe(row.side === 'sealed');
    for (const row of await table('&side=sealed')) expect(row.low).toBe('');
    for (const row of await table('')) expect(Object.keys(row)).toContain('low');
  });
});

describe('a list with patients of the study', () => {
  it('says who they are by identifier, and keeps their outcomes closed until they count', async () => {
    const [logistic, tree] = await lines();
    const listed = numbered.split('\n');
    const shown = await scored(listed.join('\n'), logistic.id);
    expect(shown.studyPatients).toEqual({
      by: 'identifier',
      development: counts.development.patients,
      heldOut: counts.heldOut.patients,
      sealed: counts.sealed!.patients,
    });
    expect(shown.closed).toEqual({
      heldOut: counts.heldOut.patients,
      sealed: counts.sealed!.patients,
    });
    expect(shown.known!.patients).toBe(counts.development.patients);
    expect((await client.get<Look[]>(`/api/studies/${study}/looks`)).length).toBe(0);
    await client.send('POST', `/api/studies/${study}/looks`, { candidate: logistic.id });
    const after = await view(shown.id);
    expect(after.closed).toEqual({ heldOut: 0, sealed: counts.sealed!.patients });
    expect(after.known!.patients).toBe(189 - counts.sealed!.patients);
    // A look at one candidate opens nothing to another.
    const other = await scored(listed.join('\r\n'), tree.id);
    expect(other.closed.heldOut).toBe(counts.heldOut.patients);
  });

  it('says who they are by their values where there is no identifier, before anyone is scored', async () => {
    const [logistic] = await lines();
    // Mothers whose values no other mother has.
    const unique = mothers.filter((row) => mothers.filter((one) => one === row).length === 1);
    const text = [header, ...unique].join('\n');
    const list = await client.bringIn(study, text, 'screening', asPublished);
    const check = await client.get<CheckBeforeScoring>(
      `/api/studies/${study}/screenings/check?cohort=${list.body.id}&candidate=${logistic.id}`,
    );
    const found = check.studyPatients!;
    expect(found.by).toBe('values');
    expect(found.development + found.heldOut + found.sealed).toBe(unique.length);
    expect(found.sealed).toBeGreaterThan(20);
    const shown = await scored([header, ...unique.toReversed()].join('\n'), logistic.id, false);
    expect(shown.closed.sealed).toBe(found.sealed);
    // Others with other values are nobody of the study.
    const others = unique.map((row) =>
      row
        .split(',')
        .map((cell, i) => (header.split(',')[i] === 'bwt' ? String(Number(cell) + 7) : cell))
        .join(','),
    );
    const strangers = await scored([header, ...others].join('\n'), logistic.id, false);
    expect(strangers.studyPatients).toBeUndefined();
    expect(strangers.closed).toEqual({ heldOut: 0, sealed: 0 });
    expect(strangers.known!.patients).toBe(unique.length);
  });

  it('says who they are by their values where identifiers were renamed, all or some of them', async () => {
    const [logistic] = await lines();
    const unique = mothers.filter((row) => mothers.filter((one) => one === row).length === 1);
    const renamed = unique.map((row, i) => `new-${i + 1},${row}`);
    const all = await scored([`id,${header}`, ...renamed].join('\n'), logistic.id);
    const { by, ...found } = all.studyPatients!;
    expect(by).toBe('values');
    expect(found.development + found.heldOut + found.sealed).toBe(unique.length);
    expect(all.closed.sealed).toBe(found.sealed);
    expect(all.known!.patients).toBe(unique.length - all.closed.sealed - all.closed.heldOut);
    // Numbered again from 1 in another order: identifiers are found, but they are other patients'.
    const again = unique.toReversed().map((row, i) => `M${i + 1},${row}`);
    const numberedAgain = await scored([`id,${header}`, ...again].join('\n'), logistic.id);
    expect(numberedAgain.studyPatients!.by).toBe('identifier and values');
    expect(numberedAgain.closed.sealed).toBeGreaterThan(all.closed.sealed);
  });

  it('shows sealed outcomes after the opening, and only with the candidate that opened them', async () => {
    const [logistic, tree] = await lines();
    const text = numbered.split('\n').toReversed();
    const list = [text.at(-1)!, ...text.slice(0, -1)].join('\n');
    const mine = await scored(list, logistic.id);
    const others = await scored(`${list}\n`, tree.id);
    expect([mine.closed.sealed, others.closed.sealed]).toEqual([
      counts.sealed!.patients,
      counts.sealed!.patients,
    ]);
    await client.send('POST', `/api/studies/${study}/sealed`, {
      ...{ candidate: logistic.id, reason: 'The candidate is settled.' },
    });
    expect((await view(mine.id)).closed.sealed).toBe(0);
    expect((await view(others.id)).closed.sealed).toBe(counts.sealed!.patients);
    for (const row of await table('&side=sealed')) expect(row.low).not.toBe('');
  });
});

describe('a new split after a look', () => {
  const sealed = () => client.get<SealedView>(`/api/studies/${study}/sealed`);
  const inForce = () => client.get<DesignState>(`/api/studies/${study}/design`);

  it('asks before patients who were shown become development patients, and changes nothing unasked', async () => {
    const before = await inForce();
    const refused = await careful.changeDesign(study, { seed: 4242 });
    expect([refused.status, (refused.body as unknown as Refusal).code]).toEqual([
      409,
      'seen-patients',
    ]);
    const shown = counts.heldOut.patients + counts.sealed!.patients;
    expect((refused.body as unknown as Refusal).sentence).toMatch(
      new RegExp(
        `^Of ${shown} patients whose .* results were shown, \\d+ would become development`,
      ),
    );
    expect(await inForce()).toEqual(before);
    const exclude = await careful.send<Refusal>('PUT', `/api/cohorts/${cohort}/selection`, {
      base: { duplicates: null, exclusions: [] },
      mine: { duplicates: null, exclusions: [{ formula: 'age > 40' }] },
    });
    expect([400, 409]).toContain(exclude.status);
    // What moves nobody is not asked about.
    expect((await careful.changeDesign(study, { missedCost: 5 })).status).toBe(200);
    expect((await careful.changeDesign(study, { missedCost: 4 })).status).toBe(200);
  });

  it('is recorded, and what was shown before is marked as of the split before', async () => {
    const [logistic] = await lines();
    const taken = await client.changeDesign(study, { seed: 4242 });
    expect(taken.status).toBe(200);
    const acts = await client.get<Act[]>(`/api/studies/${study}/acts`);
    const moved = acts.find(({ what }) => /results were shown became development/.test(what))!;
    expect(moved.canBeUndone).toBe(false);
    const overview = await client.get<Overview>(`/api/studies/${study}`);
    expect(overview.looks).toMatchObject({ count: 0, earlier: 1 });
    const [look] = await client.get<Look[]>(`/api/studies/${study}/looks`);
    expect(look.standing!.isOfThisSplit).toBe(false);
    const { standing } = await sealed();
    expect(standing!.isOfThisSplit).toBe(false);
    expect(look.standing!.development + standing!.development).toBe(
      Number(/^\d+/.exec(moved.what)![0]),
    );
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [logistic.id] });
    await client.fitted(study);
    const { body } = await client.send<HeldOutView>('POST', `/api/studies/${study}/looks`, {
      candidate: logistic.id,
    });
    expect(body.looks.map((one) => one.standing!.isOfThisSplit)).toEqual([false, true]);
    expect((await client.get<Overview>(`/api/studies/${study}`)).looks).toMatchObject({
      ...{ count: 1, earlier: 1 },
    });
    const sides = await client.get<SidesView | null>(`/api/studies/${study}/sides`);
    expect(sides).not.toBeNull();
    await client.changeDesign(study, { event: '' });
    expect(await client.get<SidesView | null>(`/api/studies/${study}/sides`)).toBeNull();
  });
});
