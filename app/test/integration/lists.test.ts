import Papa from 'papaparse';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import type { ListFile, ScreenedRow, ScreeningView } from '../../src/contract/screenings.ts';
import type { Overview } from '../../src/contract/studies.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { Client, type Refusal } from '../support/client.ts';
import { onDatabase, rowsOf } from '../support/database.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';

let product: FreshProduct;
let client: Client;
let study: string;
let candidate: CandidateLine;
let other: CandidateLine;

const [header, ...mothers] = birthWeight.trim().split('\n');

beforeAll(async () => {
  product = await freshProduct({ demo: false });
  client = new Client(product.address);
  study = await client.newStudy('Lists');
  await client.bringIn(study, birthWeight, 'development', asPublished);
  await client.changeDesign(study, { event: 'yes', missedCost: 4 });
  for (const family of ['logistic', 'decision-tree'])
    await client.send('POST', `/api/studies/${study}/candidates`, { family, settings: {} });
  [, candidate, other] = await client.fitted(study);
});
afterAll(() => product.stop());

const view = (id: string) => client.get<ScreeningView>(`/api/screenings/${id}`);
const fileOf = async (id: string, which = 'file') => {
  const response = await fetch(`${product.address}/api/screenings/${id}/${which}`);
  return Papa.parse<Record<string, string>>(await response.text(), {
    header: true,
    skipEmptyLines: true,
  });
};
const headOf = async (id: string) => {
  const { data } = await fileOf(id, 'head');
  return Object.fromEntries(data.map(({ field, value }) => [field, value]));
};
const score = (cohort: string, scorer = candidate, unchecked = true) =>
  client.send<{ id: string } & Refusal>('POST', `/api/studies/${study}/screenings`, {
    ...{ cohort, candidate: scorer.id, accept: true },
    ...(unchecked && { unchecked }),
  });

/** A list of mothers, from one of them on. */
async function newList(count: number, from = 0): Promise<string> {
  const text = [header, ...mothers.slice(from, from + count)].join('\n');
  return (await client.bringIn(study, text, 'screening', asPublished)).body.id;
}

async function scoredList(count: number, scorer = candidate, from = 0): Promise<string> {
  const { status, body } = await score(await newList(count, from), scorer);
  expect(status).toBe(200);
  return body.id;
}

const setCalls = async (id: string, calls: unknown, scoredAt?: string) =>
  client.send<Refusal>('PUT', `/api/screenings/${id}/calls`, {
    ...{ calls, scoredAt: scoredAt ?? (await view(id)).createdAt },
  });

const called = async (id: string) =>
  (await fileOf(id)).data.filter(({ call }) => call === 'call in').length;

describe('who of a list is called in', () => {
  it('by capacity is a choice of that list: it holds there, and changes nothing else', async () => {
    const [mine, next] = [await scoredList(150), await scoredList(100, candidate, 50)];
    const before = [await called(next), (await view(next)).calls.cutoff];
    const place = { by: 'capacity', patients: 37, ties: 'leave' };
    expect((await setCalls(mine, place)).status).toBe(200);
    const { calls, outOfDate, version } = await view(mine);
    expect(calls.called).toBe(37);
    expect(outOfDate).toBeNull();
    expect(await called(mine)).toBe(37);
    const { rows } = await client.get<{ rows: ScreenedRow[] }>(
      `/api/screenings/${mine}/rows?from=0&count=150`,
    );
    expect(rows.filter(({ risk }) => risk! >= calls.cutoff).map(({ rank }) => rank)).toEqual(
      Array.from({ length: 37 }, (_, i) => i + 1),
    );
    expect([await called(next), (await view(next)).calls.cutoff]).toEqual(before);
    const line = (await client.fitted(study)).find(({ id }) => id === candidate.id)!;
    expect(line.cutoffRule).toEqual({ rule: 'cheapest' });
    expect(line.results!.cutoff).toBe(version.cutoff);
    expect(await headOf(mine)).toMatchObject({
      'patients called in': '37',
      'calls of this list': 'the 37 patients most at risk',
      'cutoff of the model': String(version.cutoff),
      'cutoff of this list': String(calls.cutoff),
    });
  });

  it('never parts patients with one risk: says how many share it, and calls all or none of them', async () => {
    const tree = await scoredList(189, other);
    const { risks } = await view(tree);
    const scores = [...new Float64Array(Uint8Array.from(Buffer.from(risks, 'base64')).buffer)].sort(
      (a, b) => b - a,
    );
    const above = (risk: number) => scores.filter((score) => score > risk).length;
    const limit = scores.find((risk) => scores.filter((score) => score === risk).length > 2)!;
    const [left, all] = [above(limit), scores.filter((score) => score >= limit).length];
    await setCalls(tree, { by: 'capacity', patients: left + 1, ties: 'leave' });
    const kept = (await view(tree)).calls;
    expect(kept).toMatchObject({ called: left, tied: { patients: all - left, left, called: all } });
    expect(await called(tree)).toBe(left);
    await setCalls(tree, { by: 'capacity', patients: left + 1, ties: 'call' });
    expect(await called(tree)).toBe(all);
    expect((await headOf(tree))['calls of this list']).toBe(
      `the ${left + 1} patients most at risk; ${all - left} patients share the risk at the limit and are all called in`,
    );
  });

  it('is not changed on risks that are no more', async () => {
    const cohort = await newList(40);
    const { id } = (await score(cohort)).body;
    const { createdAt } = await view(id);
    await setCalls(id, { by: 'capacity', patients: 5, ties: 'leave' });
    await score(cohort);
    // Room for five is room for five on any risks.
    expect((await view(id)).calls).toMatchObject({ called: 5, rule: { by: 'capacity' } });
    const refused = await setCalls(id, { by: 'cutoff', cutoff: 0.4 }, createdAt);
    expect([refused.status, refused.body.code]).toEqual([409, 'scored-again']);
    await setCalls(id, { by: 'cutoff', cutoff: 0.4 });
    expect((await view(id)).calls.cutoff).toBe(0.4);
    await score(cohort);
    expect((await view(id)).calls.rule).toEqual({ by: 'candidate' });
    for (const wrong of [
      { by: 'capacity', patients: 2.5, ties: 'leave' },
      { by: 'capacity', patients: -1, ties: 'leave' },
      { by: 'cutoff', cutoff: null },
      { by: 'nobody' },
    ])
      expect((await setCalls(id, wrong)).status).toBe(400);
  });

  it('stays as the list was scored when cutoff, costs or name of the candidate change', async () => {
    const cohort = await newList(120);
    const { id } = (await score(cohort)).body;
    const [first, text, head] = [await view(id), await fileOf(id), await headOf(id)];
    await client.send('PUT', `/api/candidates/${candidate.id}/cutoff`, {
      ...{ rule: 'call', perThousand: 50 },
    });
    await client.changeDesign(study, { missedCost: 9 });
    await client.send('PATCH', `/api/candidates/${candidate.id}`, { name: 'Renamed' });
    const after = await view(id);
    expect(after.calls).toEqual(first.calls);
    expect(after.version).toEqual(first.version);
    expect(await fileOf(id)).toEqual(text);
    expect(await headOf(id)).toEqual(head);
    expect(after.outOfDate).toBe('version');
    const line = (await client.fitted(study)).find((one) => one.id === candidate.id)!;
    expect(after.now!.cutoff).toBe(line.results!.cutoff);
    expect(after.now!.number).toBeGreaterThan(after.version.number);
    await score(cohort);
    const again = await view(id);
    expect(again.outOfDate).toBeNull();
    expect(again.version).toEqual({ ...after.now, name: 'Renamed' });
    expect(again.calls.called).toBe(await called(id));
    // A version that comes back has the number that it had.
    await client.send('PUT', `/api/candidates/${candidate.id}/cutoff`, { rule: 'cheapest' });
    await client.changeDesign(study, { missedCost: 4 });
    expect((await view(id)).now!.number).toBe(first.version.number);
    await client.send('PATCH', `/api/candidates/${candidate.id}`, { name: '' });
  });
});

describe('the file of a list', () => {
  it('has the same columns for every list of a model, and no line that is not one of the table', async () => {
    const plain = await fileOf(await scoredList(30));
    const odd = await client.bringIn(
      study,
      Papa.unparse(
        mothers.slice(0, 12).map((row, i) => {
          const { smoke: _, ...rest } = Object.fromEntries(
            row.split(',').map((cell, j) => [header.split(',')[j], cell]),
          );
          return { clinic_id: `P${i}`, ...rest, lwt: i === 0 ? '900' : rest.lwt };
        }),
      ),
      'screening',
      (dictionary) => {
        dictionary[0].role = 'identifier';
      },
    );
    const { body } = await score(odd.body.id);
    const strange = await fileOf(body.id);
    expect(strange.errors).toEqual([]);
    expect(strange.meta.fields).toEqual(plain.meta.fields);
    expect(new Set(strange.meta.fields).size).toBe(strange.meta.fields!.length);
    expect(strange.data.map(({ patient }) => patient).sort()).toEqual(
      Array.from({ length: 12 }, (_, i) => `P${i}`).sort(),
    );
    expect(plain.data.every(({ patient }) => patient === '')).toBe(true);
    const heads = [await headOf(body.id), await headOf(await scoredList(10))];
    expect(Object.keys(heads[0])).toEqual(Object.keys(heads[1]));
  });

  it('is the same without reasons, whose columns are then empty', async () => {
    const id = await scoredList(60);
    const read = async (query: string) =>
      (await fetch(`${product.address}/api/screenings/${id}/file${query}`)).text();
    const [full, short] = [await read(''), await read('?reasons=no')].map((text) =>
      Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true }),
    );
    expect(short.meta.fields).toEqual(full.meta.fields);
    expect(full.data.some((row) => row['reason 1'] !== '')).toBe(true);
    const empty = { 'reason 1': '', 'reason 2': '', 'reason 3': '', 'order of reasons': '' };
    expect(short.data).toEqual(full.data.map((row) => ({ ...row, ...empty })));
  });

  it('says beside it which version scored it, when, and for whom', async () => {
    const id = await scoredList(60);
    const { version, createdAt } = await view(id);
    const line = (await client.fitted(study)).find((one) => one.id === candidate.id)!;
    expect(await headOf(id)).toMatchObject({
      list: 'Patients',
      patients: '60',
      'patients scored': '60',
      model: line.name,
      'model family': 'logistic',
      version: String(version.number),
      'fitted at': line.fittedAt,
      'scored at': createdAt,
      'cutoff rule of the model': 'lowest cost out of fold',
      'cost of a missed case': '4',
      'cost of a false alarm': '1',
      case: 'yes',
      'checked on held-out patients': 'no',
    });
    const { data } = await fileOf(id);
    for (const row of data)
      expect([row.model, row.version, row['scored at']]).toEqual([
        line.name,
        String(version.number),
        createdAt,
      ]);
  });
});

describe('a file that a worker writes', () => {
  const ask = async (id: string, reasons = true) =>
    (await client.send<{ id: string }>('POST', `/api/screenings/${id}/files`, { reasons })).body.id;
  const files = (id: string) => client.get<ListFile[]>(`/api/screenings/${id}/files`);
  const take = (id: string, file: string) =>
    fetch(`${product.address}/api/screenings/${id}/files/${file}`, {
      // Compressed, its length is not known beforehand.
      headers: { 'Accept-Encoding': 'identity' },
    });
  const done = (id: string, file: string) =>
    expect
      .poll(async () => (await files(id)).find((one) => one.id === file))
      .toMatchObject({ state: 'done' });
  const direct = async (id: string, reasons = 'yes') =>
    (await fetch(`${product.address}/api/screenings/${id}/file?reasons=${reasons}`)).text();
  const partsOf = async (file: string) =>
    (
      await rowsOf<{ count: string }>(
        product.databaseUrl,
        `select count(*) from list_file_part where file_id = '${file}'`,
      )
    )[0].count;

  it('is the one that is sent at once, with reasons and without, and is written once', async () => {
    const id = await scoredList(120);
    const [first, same, without] = [await ask(id), await ask(id), await ask(id, false)];
    expect(same).toBe(first);
    for (const [file, reasons] of [
      [first, 'yes'],
      [without, 'no'],
    ]) {
      await done(id, file);
      const response = await take(id, file);
      const text = await response.text();
      expect(text).toBe(await direct(id, reasons));
      expect(response.headers.get('Content-Length')).toBe(String(Buffer.byteLength(text)));
    }
    const [other, one] = await files(id);
    expect([other.reasons, one.reasons]).toEqual([false, true]);
    expect(one).toMatchObject({ patients: 120, patientsDone: 120, problem: null });
    expect((await client.send('DELETE', `/api/screenings/${id}/files/${first}`)).status).toBe(200);
    expect((await take(id, first)).status).toBe(404);
    expect(await partsOf(first)).toBe('0');
  });

  it('is not the file of other scores', async () => {
    const list = await newList(80);
    const { id } = (await score(list)).body;
    const file = await ask(id);
    await done(id, file);
    await score(list);
    expect(await files(id)).toEqual([]);
    expect((await take(id, file)).status).toBe(404);
    const next = await ask(id);
    expect(next).not.toBe(file);
    await done(id, next);
  });

  it('is called off while it waits, and comes whole after the worker has died', async () => {
    const id = await scoredList(100);
    process.kill(product.workers[0].pid, 'SIGSTOP');
    try {
      const file = await ask(id);
      expect((await take(id, file)).status).toBe(409);
      await client.send('DELETE', `/api/screenings/${id}/files/${file}`);
    } finally {
      process.kill(product.workers[0].pid, 'SIGCONT');
    }
    const file = await ask(id, false);
    await done(id, file);
    // As a worker leaves it that was killed: begun, with a part, and silent.
    await onDatabase(
      product.databaseUrl,
      `update list_file_part set content = 'half a list' where file_id = '${file}';
       update list_file set state = 'running', ended_at = null, patients_done = 3,
         heartbeat_at = now() - interval '1 minute' where id = '${file}'`,
    );
    await done(id, file);
    expect(await (await take(id, file)).text()).toBe(await direct(id, 'no'));
    expect((await files(id)).map((one) => one.id)).toEqual([file]);
  });
});

describe('the chosen candidate', () => {
  const overview = () => client.get<Overview>(`/api/studies/${study}`);
  const choose = (id: string | null) =>
    client.send<Refusal>('PUT', `/api/studies/${study}/chosen`, { candidate: id });

  it('is one of the study, named with what is to be known of it', async () => {
    expect((await overview()).chosen).toBeNull();
    expect((await choose(candidate.id)).status).toBe(200);
    expect((await overview()).chosen).toEqual({
      ...{ id: candidate.id, name: candidate.name, seen: false, outOfDate: false },
    });
    await choose(other.id);
    expect((await overview()).chosen!.id).toBe(other.id);
    const [reference] = await client.fitted(study);
    expect((await choose(reference.id)).body.code).toBe('reference-chosen');
    const elsewhere = await client.newStudy('Elsewhere');
    const foreign = await client.send<Refusal>('PUT', `/api/studies/${elsewhere}/chosen`, {
      candidate: other.id,
    });
    expect(foreign.status).toBe(404);
    await client.send('DELETE', `/api/candidates/${other.id}`);
    expect((await overview()).chosen).toBeNull();
    await client.send('POST', `/api/candidates/${other.id}/restore`);
    expect((await overview()).chosen!.id).toBe(other.id);
    await choose(null);
    expect((await overview()).chosen).toBeNull();
  });

  it('scores nobody in silence while it is not checked, or is of an earlier design', async () => {
    await choose(candidate.id);
    const cohort = await newList(25);
    const refused = await score(cohort, candidate, false);
    expect([refused.status, refused.body.code]).toEqual([409, 'not-checked']);
    expect(
      (await client.get<{ cohortId: string }[]>(`/api/studies/${study}/screenings`)).some(
        ({ cohortId }) => cohortId === cohort,
      ),
    ).toBe(false);
    await client.send('POST', `/api/studies/${study}/looks`, { candidate: candidate.id });
    expect((await overview()).chosen).toMatchObject({ seen: true, outOfDate: false });
    const { status, body } = await score(cohort, candidate, false);
    expect(status).toBe(200);
    expect((await headOf(body.id))['checked on held-out patients']).toBe('yes');
    const { choices } = await client.get<DesignState>(`/api/studies/${study}/design`);
    await client.changeDesign(study, { predictors: choices.predictors.slice(1) });
    expect((await overview()).chosen!.outOfDate).toBe(true);
    const old = await score(cohort, candidate, false);
    expect([old.status, old.body.code]).toEqual([409, 'out-of-date']);
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [candidate.id] });
    await client.fitted(study);
    // Fitted again it is another fit: what was seen was of the one before.
    expect((await score(cohort, candidate, false)).body.code).toBe('not-checked');
  });
});
