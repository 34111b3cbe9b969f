import Papa from 'papaparse';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type {
  OverTwoView,
  PairsView,
  ReasonsView,
  RulesView,
  WhyView,
  WorthView,
} from '../../src/contract/reasons.ts';
import type { ListReasonsView, ScreenedRow } from '../../src/contract/screenings.ts';
import { Client, type Refusal } from '../support/client.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';
import { first, later, liverStudy } from '../support/liver-study.ts';

let product: FreshProduct;
let client: Client;
let study: string;
let forest: CandidateLine;

const own = ['bili', 'age', 'sex', 'protime'];

async function fit(
  family: string,
  settings: object = {},
  predictors = own,
): Promise<CandidateLine> {
  const path = `/api/studies/${study}/candidates`;
  const body = { family, settings, basis: { own: predictors } };
  const added = await client.send<{ id: string }>('POST', path, body);
  return (await client.fitted(study)).find(({ id }) => id === added.body.id)!;
}

beforeAll(async () => {
  product = await freshProduct({ demo: false, workers: 2 });
  client = new Client(product.address);
  study = await liverStudy(client, 'Reasons of patients', 'dead4y');
  forest = await fit('random-forest', { trees: 60 });
});
afterAll(() => product.stop());

const path = (rest: string) => `/api/candidates/${forest.id}/reasons/${rest}`;
const known = (values: Record<string, string | null>) =>
  Object.fromEntries(
    own.map((name) => {
      const value = values[name];
      return [name, value === null || Number.isNaN(Number(value)) ? value : Number(value)];
    }),
  );
const whyOf = async (values: Record<string, unknown>) =>
  (await client.send<WhyView>('POST', path('patient'), { values })).body;

describe('one patient', () => {
  it('has the same reasons by the row and by hand, and the changes that are told turn the call', async () => {
    let turned = 0;
    for (const row of [0, 1, 2, 3, 4, 5]) {
      const byRow = await client.get<ReasonsView>(path(`patient?row=${row}`));
      const byHand = await whyOf(known(byRow.values));
      expect(byHand.said).toBeCloseTo(byRow.said, 10);
      byHand.contributions.forEach(({ name, value }, j) => {
        expect(name).toBe(byRow.contributions[j].name);
        expect(value).toBeCloseTo(byRow.contributions[j].value, 10);
      });
      expect(byHand.turns).toEqual(byRow.turns);
      const isCalled = byRow.said >= byRow.cutoff;
      for (const { changes, said } of byRow.turns) {
        turned++;
        const to = Object.fromEntries(changes.map((change) => [change.name, change.to]));
        const changed = await whyOf({ ...known(byRow.values), ...to });
        expect(changed.said).toBeCloseTo(said, 10);
        expect(said >= byRow.cutoff).toBe(!isCalled);
      }
    }
    expect(turned).toBeGreaterThan(5);
  });

  it('keeps what the design says cannot be changed, and the candidate stays as it is', async () => {
    const before = await client.get<ReasonsView>(path('patient?row=1'));
    const changes = ({ turns }: WhyView) => turns.flatMap((turn) => turn.changes);
    const [{ name }] = changes(before);
    await client.changeDesign(study, { fixed: [name] });
    const after = await client.get<ReasonsView>(path('patient?row=1'));
    expect(after.fixed).toEqual([name]);
    expect(changes(after).map((change) => change.name)).not.toContain(name);
    expect(after.contributions).toEqual(before.contributions);
    const lines = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
    expect(lines.find(({ id }) => id === forest.id)!.outOfDate).toBeFalsy();
    await client.changeDesign(study, { fixed: [] });
  });

  it('of whom something is not known that must be is given no reasons', async () => {
    await client.changeDesign(study, { needed: ['bili'] });
    const { status, body } = await client.send<Refusal>('POST', path('patient'), {
      values: { age: 50, sex: 'f', protime: 11, bili: null },
    });
    expect([status, body.code]).toEqual([409, 'not-scored']);
    expect(body.sentence).toContain('Bili must be known');
    await client.changeDesign(study, { needed: [] });
  });
});

describe('two predictors at once', () => {
  it('are shaded over their plane, or over two components, with the patients where they stand', async () => {
    const { map } = await client.get<OverTwoView>(path('two?across=bili&up=sex'));
    expect([map!.across.column, map!.up.column]).toEqual(['bili', 'sex']);
    expect(map!.predicted.values).toHaveLength(30 * 2);
    for (const risk of map!.predicted.values) expect(risk >= 0 && risk <= 1).toBe(true);
    // More bilirubin, more deaths.
    const [low, high] = [map!.predicted.values[0], map!.predicted.values[29]];
    expect(high).toBeGreaterThan(low);
    expect(map!.patients.place.length + map!.outside).toBe(map!.of);
    const { map: plane, directions } = await client.get<OverTwoView>(path('two'));
    expect(plane!.predicted.values).toHaveLength(30 * 20);
    expect(directions![0].parts.map(({ name }) => name).toSorted()).toEqual([
      'age',
      'bili',
      'protime',
    ]);
    const refused = await client.send<Refusal>('GET', path('two?across=bili&up=bili'));
    expect([refused.status, refused.body.code]).toEqual([422, 'same-predictor']);
    expect((await client.send('GET', path('two?across=bili&up=chol'))).status).toBe(404);
  });

  it('are told how strongly they act together', async () => {
    const { pairs } = await client.get<PairsView>(path('pairs'));
    expect(pairs).toHaveLength(6);
    for (const { names, h } of pairs) {
      expect(own).toEqual(expect.arrayContaining(names));
      expect(h).toBeGreaterThanOrEqual(0);
    }
  });
});

describe('rules', () => {
  it('follow the candidate, and say how far', async () => {
    const found = await client.get<RulesView>(path('rules?leaves=5'));
    expect(found.leaves).toBeLessThanOrEqual(5);
    const { alike, calledAlone, treeAlone, rSquared } = found.faithful;
    expect(alike + calledAlone + treeAlone).toBe(found.patients);
    expect(rSquared).toBeGreaterThan(0.4);
    expect(found.cutoff).toBeCloseTo(forest.results!.cutoff, 12);
    expect((await client.send('GET', path('rules?leaves=1'))).status).toBe(400);
  });
});

describe('a list', () => {
  let screening: string;
  const rowsOf = async () =>
    (await client.get<{ rows: ScreenedRow[] }>(`/api/screenings/${screening}/rows?from=0&count=20`))
      .rows;
  const reasonsPath = () => `/api/screenings/${screening}/reasons?from=0&count=20`;
  const file = async () => {
    const text = await (await fetch(`${product.address}/api/screenings/${screening}/file`)).text();
    return Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true });
  };

  beforeAll(async () => {
    const list = await client.bringIn(study, Papa.unparse(later), 'screening');
    const { body } = await client.send<{ id: string }>('POST', `/api/studies/${study}/screenings`, {
      ...{ cohort: list.body.id, candidate: forest.id, accept: true, unchecked: true },
    });
    screening = body.id;
  });

  it('has for each patient the three that add most, as the patient alone has, and so has the file', async () => {
    const rows = await rowsOf();
    const { patients, isDrawn } = await client.get<ListReasonsView>(reasonsPath());
    expect(isDrawn).toBe(false);
    expect(patients).toHaveLength(20);
    const { data, meta } = await file();
    expect(meta.fields!.slice(-8, -4)).toEqual([
      'reason 1',
      'reason 2',
      'reason 3',
      'order of reasons',
    ]);
    // Exact contributions have one order.
    for (const row of data) expect(row['order of reasons']).toBe('certain');
    for (const [i, row] of rows.entries()) {
      const values = later[row.row];
      const alone = await whyOf(
        known(Object.fromEntries(own.map((name) => [name, values[name] || null]))),
      );
      expect(alone.said).toBeCloseTo(row.risk!, 10);
      const most = alone.contributions
        .filter(({ value }) => value !== 0)
        .toSorted((a, b) => Math.abs(b.value) - Math.abs(a.value))
        .slice(0, 3);
      expect(patients[i].map(({ name }) => name)).toEqual(most.map(({ name }) => name));
      patients[i].forEach(({ value }, k) => expect(value).toBeCloseTo(most[k].value, 10));
      expect(data[i]['reason 1']).toBe(
        `${most[0].name} ${most[0].value > 0 ? 'raises' : 'lowers'} it`,
      );
    }
  });

  it('has drawn reasons where a model is no sum, in the file of who is called in', async () => {
    const line = await fit('discriminants', {}, [...own, 'chol', 'edema', 'stage']);
    const path = `/api/studies/${study}/screenings`;
    const long = await client.bringIn(study, Papa.unparse([...later, ...first]), 'screening');
    const pair = { cohort: long.body.id, candidate: line.id, accept: true, unchecked: true };
    const { body } = await client.send<{ id: string }>('POST', path, pair);
    const listed = await client.get<ListReasonsView>(
      `/api/screenings/${body.id}/reasons?from=0&count=5`,
    );
    expect(listed.isDrawn).toBe(true);
    for (const reasons of listed.patients) expect(reasons).toHaveLength(3);
    const text = await (await fetch(`${product.address}/api/screenings/${body.id}/file`)).text();
    const { data } = Papa.parse<Record<string, string>>(text, {
      header: true,
      skipEmptyLines: true,
    });
    const called = data.filter(({ call }) => call === 'call in');
    expect(called.length).toBeGreaterThan(5);
    for (const row of called) expect(row['reason 1']).toMatch(/ (raises|lowers) it$/);
    // One patient, one answer: asked in fives, in the file and further down the list.
    const said = ({ name, value }: { name: string; value: number }) =>
      `${name} ${value > 0 ? 'raises' : 'lowers'} it`;
    const again = await client.get<ListReasonsView>(
      `/api/screenings/${body.id}/reasons?from=3&count=40`,
    );
    listed.patients.forEach((reasons, i) => {
      const row = data[i];
      const inFile = [row['reason 1'], row['reason 2'], row['reason 3']];
      expect(inFile.map((one) => one.replace(' (missing, imputed)', ''))).toEqual(
        reasons.map(said),
      );
      expect(row['order of reasons']).toBe(
        (listed.certain?.[i] ?? true) ? 'certain' : 'not certain',
      );
    });
    expect(again.patients.slice(0, 2)).toEqual(listed.patients.slice(3));
    // They take long: behind the first hundred only of who is called in.
    expect(data).toHaveLength(later.length + first.length);
    expect(data.at(-1)).toMatchObject({ call: 'leave alone', 'reason 1': '' });
  });

  it('has no reasons of another fit than its own', async () => {
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [forest.id] });
    await client.fitted(study);
    const { status, body } = await client.send<Refusal>('GET', reasonsPath());
    expect([status, body.code]).toEqual([409, 'no-reasons']);
    for (const row of (await file()).data) expect(row['reason 1']).toBe('');
  });
});

it('what matters is worked out though its worker is killed', async () => {
  const line = await fit('random-forest', { trees: 60 });
  const worth = `/api/candidates/${line.id}/reasons/worth`;
  const view = () => client.get<WorthView>(worth);
  await client.send('POST', worth, { together: [] });
  await expect.poll(async () => (await view()).total).toBe(5);
  for (const worker of product.workers) process.kill(worker.pid, 'SIGKILL');
  await expect.poll(async () => (await view()).state).toBe('there');
  const killed = await view();
  // As if nobody had been killed.
  await client.send('POST', worth, { together: [['bili', 'age']] });
  await expect.poll(async () => (await view()).state).toBe('there');
  const { worths } = await view();
  killed.worths!.forEach(({ groups }, k) =>
    expect(worths![k].groups.slice(0, groups.length)).toEqual(groups),
  );
});
