import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Settings } from '@rook-scale/core/families';
import { developmentCohort, toCsv } from '@rook-scale/demo';
import type { CandidateDetail, CandidateLine } from '../../src/contract/candidates.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import type { QueueView } from '../../src/contract/queue.ts';
import { Client } from '../support/client.ts';
import { onDatabase, rowsOf } from '../support/database.ts';
import { searching } from '../support/searching.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';
import { pace } from '../support/pace.ts';

let product: FreshProduct;
let client: Client;
let study: string;

beforeAll(async () => {
  product = await freshProduct({ demo: false });
  client = new Client(product.address);
  // Made first: a connection that idles while this goes on may be closed under the next request.
  const patients = toCsv(developmentCohort(10_000));
  study = await client.newStudy('Large');
  await client.bringIn(study, patients, 'development', (dictionary) => {
    for (const entry of dictionary) {
      if (entry.name === 'injury_7_days') entry.role = 'outcome';
      if (/^(injury_grade|highest_creatinine|renal_ward_transfer)$/.test(entry.name))
        entry.role = 'set aside';
    }
  });
  await client.changeDesign(study, { event: 'yes' });
  await client.fitted(study);
});
afterAll(() => product.stop());

const add = (family = 'logistic', settings: Settings = {}) =>
  client.send<{ id: string }>('POST', `/api/studies/${study}/candidates`, { family, settings });

async function line(id: string): Promise<CandidateLine> {
  const lines = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
  return lines.find((one) => one.id === id)!;
}

async function until(id: string, test: (line: CandidateLine) => boolean): Promise<CandidateLine> {
  const end = Date.now() + 300_000 * pace;
  for (;;) {
    const now = await line(id);
    if (test(now)) return now;
    if (Date.now() > end) throw new Error(`It did not come to pass: ${JSON.stringify(now)}`);
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

describe('fits as jobs', () => {
  it('begun anew on another outcome, never take parts of the fit before', async () => {
    const small = await client.newStudy('Changed again and again');
    await client.bringIn(small, toCsv(developmentCohort(1500)), 'development');
    const outcomes = [
      { outcome: 'injury_7_days', kind: 'event', event: 'yes' },
      { outcome: 'injury_grade', kind: 'levels', reference: 'none', cases: ['severe'] },
      { outcome: 'highest_creatinine', kind: 'number', caseFrom: 177 },
    ] as const;
    // Begun again while it is being fitted: the reference candidate follows every change at once.
    for (let turn = 0; turn < 36; turn++) {
      const part = outcomes[turn % outcomes.length];
      await client.changeDesign(small, {
        ...part,
        cases: [...('cases' in part ? part.cases : [])],
      });
      await new Promise((resolve) => setTimeout(resolve, (turn * 7) % 40));
      if (turn % 6 !== 5) continue;
      const [reference] = await client.fitted(small);
      expect([reference.state, reference.problem]).toEqual(['fitted', null]);
      expect(reference.outcome!.choice.kind).toBe(part.kind);
    }
  });

  it('share what the preparation learned, and only where it is the same', async () => {
    const small = await client.newStudy('Learned once');
    await client.bringIn(small, toCsv(developmentCohort(1500)), 'development');
    await client.changeDesign(small, { outcome: 'injury_7_days', event: 'yes' });
    const fitOne = async () => {
      await client.send('POST', `/api/studies/${small}/candidates`, {
        family: 'logistic',
        settings: {},
      });
      const last = (await client.fitted(small)).at(-1)!;
      const detail = await client.get<CandidateDetail>(`/api/candidates/${last.id}`);
      return { results: last.results, detail };
    };
    const first = await fitOne();
    const second = await fitOne();
    expect(second.results).toEqual(first.results);
    expect(second.detail.preparation).toEqual(first.detail.preparation);
    const { choices } = await client.get<DesignState>(`/api/studies/${small}/design`);
    // In another order the inputs stand in another order.
    const predictors = [...choices.predictors].reverse();
    await client.changeDesign(small, { predictors });
    const turned = await fitOne();
    const namesOf = ({ detail }: typeof first) => [
      ...new Set(detail.inputs.map(({ column }) => column)),
    ];
    expect(namesOf(turned)).toEqual(namesOf(first).reverse());
    expect(turned.results!.area!.mean).toBeCloseTo(first.results!.area!.mean, 9);
    // Of other patients something else is learned.
    await client.changeDesign(small, { predictors: choices.predictors, seed: choices.seed + 1 });
    await client.fitted(small);
    const others = await fitOne();
    expect(others.detail.preparation).not.toEqual(first.detail.preparation);
    expect(others.results).not.toEqual(first.results);
  });

  it('report their parts as they are done', async () => {
    const { id } = (await add()).body;
    const seen = new Set<number>();
    await until(id, (now) => {
      seen.add(now.partsDone);
      return now.state === 'fitted';
    });
    expect(seen.size).toBeGreaterThan(2);
    expect((await line(id)).partsTotal).toBe(6);
  });

  it('say how far the parts at work are, and never less than before', async () => {
    const { id } = (await add('random-forest', { trees: 20 })).body;
    const seen: { partsDone: number; partsBegun: number }[] = [];
    await until(id, (now) => {
      seen.push(now);
      return now.state === 'fitted';
    });
    const begun = seen.filter(({ partsBegun }) => partsBegun > 0);
    expect(begun.length).toBeGreaterThan(1);
    const far = seen.slice(0, -1).map(({ partsDone, partsBegun }) => partsDone + partsBegun);
    expect(far).toEqual(far.toSorted((a, b) => a - b));
    expect(Math.max(...far)).toBeLessThanOrEqual(6);
    expect(new Set(far).size).toBeGreaterThan(6);
  });

  // In small steps, so that the loss falls to the last epoch.
  it('show how the loss falls while a network learns, and nothing of that afterwards', async () => {
    const { id } = (await add('neural-network', { epochs: 150, starts: 1, rate: 0.0005 })).body;
    const seen: number[] = [];
    await until(id, ({ state, learning }) => {
      if (learning) {
        const { at, lines, along, chosen } = learning;
        expect(along).toBe('epochs');
        expect(lines.map(({ whose }) => whose)).toEqual(['learned from', 'inner fold']);
        for (const { values } of lines) expect(values).toHaveLength(at.length);
        expect(lines[1].values[at.indexOf(chosen)]).toBe(Math.min(...lines[1].values));
        seen.push(at.at(-1)!);
      }
      return state === 'fitted';
    });
    expect(new Set(seen).size).toBeGreaterThan(1);
    expect(seen).toEqual(seen.toSorted((a, b) => a - b));
    expect((await line(id)).learning).toBeUndefined();
  });

  it('that wait take the design in force when they begin, also where patients have changed', async () => {
    const own = await client.newStudy('Changed while waiting');
    const { body } = await client.bringIn(own, toCsv(developmentCohort(900)), 'development');
    const choices = { outcome: 'injury_7_days', kind: 'event', event: 'yes' } as const;
    await client.changeDesign(own, choices);
    await client.fitted(own);
    process.kill(product.workers[0].pid, 'SIGSTOP');
    try {
      for (const family of ['logistic', 'decision-tree'])
        await client.send('POST', `/api/studies/${own}/candidates`, { family, settings: {} });
      await client.mend(body.id, (dictionary) => {
        const entry = dictionary.find(({ name }) => name === 'albumin')!;
        Object.assign(entry, { role: 'set aside', missingCodes: ['35'] });
      });
    } finally {
      process.kill(product.workers[0].pid, 'SIGCONT');
    }
    const lines = await client.fitted(own);
    expect(lines.map(({ state, problem, outOfDate }) => [state, problem, outOfDate])).toEqual(
      lines.map(() => ['fitted', null, false]),
    );
    const detail = await client.get<CandidateDetail>(`/api/candidates/${lines[1].id}`);
    expect(detail.inputs.map(({ column }) => column)).not.toContain('albumin');
  });

  it('that are short pass a long one that waits, and one that waits has one job', async () => {
    const small = await client.newStudy('Short');
    await client.bringIn(small, toCsv(developmentCohort(600)), 'development');
    await client.changeDesign(small, { outcome: 'injury_7_days', kind: 'event', event: 'yes' });
    await client.fitted(small);
    const longs = ['random-forest', 'boosted-trees'];
    process.kill(product.workers[0].pid, 'SIGSTOP');
    const long: string[] = [];
    let short = '';
    try {
      for (const family of longs) long.push((await add(family)).body.id);
      for (let times = 0; times < 3; times++)
        await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: long });
      const { body } = await client.send<{ id: string }>(
        'POST',
        `/api/studies/${small}/candidates`,
        { family: 'logistic', settings: {} },
      );
      short = body.id;
      const jobs = await rowsOf<{ key: string; jobs: string }>(
        product.databaseUrl,
        `select singleton_key as key, count(*) as jobs from pgboss.job
         where name in ('fit', 'short fit') and state = 'created' group by 1`,
      );
      expect(jobs.map(({ jobs: count }) => Number(count))).toEqual([1, 1, 1]);
      const waiting = async () => {
        const { fits } = await client.get<QueueView>('/api/queue');
        return fits.filter(({ state }) => state === 'waiting').map((fit) => fit.candidateId);
      };
      expect(await waiting()).toEqual([short, ...long]);
      // By hand the last may come first.
      expect((await client.send('POST', `/api/candidates/${long[1]}/next`)).status).toBe(200);
      expect(await waiting()).toEqual([long[1], short, long[0]]);
      expect((await client.send('POST', `/api/candidates/${short}/next`)).status).toBe(200);
      expect(await waiting()).toEqual([short, long[1], long[0]]);
    } finally {
      process.kill(product.workers[0].pid, 'SIGCONT');
    }
    const shortLine = (await client.fitted(small)).find(({ id }) => id === short)!;
    expect(shortLine.state).toBe('fitted');
    const waiting = await Promise.all(long.map(line));
    expect(waiting.map(({ state }) => state)).not.toContain('fitted');
    for (const id of long) await client.send('POST', `/api/candidates/${id}/cancel`);
    expect((await client.send('POST', `/api/candidates/${short}/next`)).status).toBe(409);
  });

  it('that are short are fitted beside a long one, and a search gives way to them', async () => {
    const short = await client.newStudy('Beside');
    await client.bringIn(short, toCsv(developmentCohort(600)), 'development');
    await client.changeDesign(short, { outcome: 'injury_7_days', kind: 'event', event: 'yes' });
    await client.fitted(short);
    const { act, lineOf, search, until: untilSearch } = searching(client, study);
    const { body: searched } = await search(
      { tried: { leastLeaf: Array.from({ length: 60 }, (_, i) => i + 1) }, fixed: { trees: 10 } },
      'random-forest',
    );
    await untilSearch(searched.id, ({ progress }) => progress > 0);
    // Several seconds of work on few patients.
    const { body } = await client.send<{ id: string }>('POST', `/api/studies/${short}/candidates`, {
      family: 'random-forest',
      settings: { trees: 2500 },
    });
    const stateOf = async () => {
      const lines = await client.get<CandidateLine[]>(`/api/studies/${short}/candidates`);
      return lines.find(({ id }) => id === body.id)!.state;
    };
    const done: number[] = [];
    let settledFrom: number | undefined;
    for (let state = await stateOf(); state !== 'fitted'; state = await stateOf()) {
      const { progress } = await lineOf(searched.id);
      // What was at work as the fit began is brought to its end.
      if (state === 'fitting') settledFrom ??= performance.now() + 1500;
      if (state === 'fitting' && performance.now() > settledFrom!) done.push(progress);
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
    expect(done.length).toBeGreaterThan(3);
    expect(new Set(done).size).toBeLessThanOrEqual(2);
    // Then the search goes on, also beside a long fit, which does not hold up a short one.
    const long = (await add('random-forest', { trees: 1000 })).body.id;
    await until(long, ({ state }) => state === 'fitting');
    const before = (await lineOf(searched.id)).progress;
    await untilSearch(searched.id, ({ progress }) => progress > before);
    await client.send('PUT', `/api/studies/${short}/candidates`, { candidates: [body.id] });
    await client.fitted(short);
    expect((await line(long)).state).toBe('fitting');
    await act(searched.id, 'stop');
    await client.send('POST', `/api/candidates/${long}/cancel`);
  });

  it('are cancelled, stay so, and can be fitted again', async () => {
    const { id } = (await add()).body;
    await until(id, (now) => now.state === 'fitting');
    await client.send('POST', `/api/candidates/${id}/cancel`);
    expect((await line(id)).state).toBe('cancelled');
    await new Promise((resolve) => setTimeout(resolve, 1500));
    expect(await line(id)).toMatchObject({ state: 'cancelled', fittedAt: null });
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [id] });
    expect((await until(id, (now) => now.state === 'fitted')).results).toBeDefined();
  });

  it('survive the death of the worker and give the numbers they would have given', async () => {
    const whole = await until((await add()).body.id, (now) => now.state === 'fitted');
    const { id } = (await add()).body;
    await until(id, (now) => now.state === 'fitting' && now.partsDone > 0);
    process.kill(product.workers[0].pid, 'SIGKILL');
    const after = await until(id, (now) => now.state === 'fitted');
    expect(after.results).toEqual(whole.results);
  });
});

describe('progress in the browser', () => {
  it('comes as server-sent events', async () => {
    const stop = new AbortController();
    const response = await fetch(`${product.address}/api/studies/${study}/events`, {
      signal: stop.signal,
    });
    expect(response.headers.get('content-type')).toBe('text/event-stream');
    const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
    let text = '';
    const changes = () => text.split('event: changed').length - 1;
    const { id } = (await add()).body;
    while (changes() < 3) text += (await reader.read()).value ?? '';
    stop.abort();
    await until(id, (now) => now.state === 'fitted');
    expect(changes()).toBeGreaterThanOrEqual(3);
  });
});

describe('a fit that cannot be carried out', () => {
  it('tells the analyst why in a sentence, and can be asked for again', async () => {
    const { id } = await client.get<{ id: string }>(`/api/studies/${study}/development`);
    // As if the dictionary had been changed between the two looks of a fit.
    const readAs = (version: number) =>
      onDatabase(product.databaseUrl, `update cohort set version = ${version} where id = '${id}'`);
    await readAs(77);
    const candidate = (await add()).body.id;
    const failed = await until(candidate, (now) => now.state === 'failed');
    expect(failed.problem).toMatch(
      /was read in another way while it was being used\. Nothing is lost; try again\.$/,
    );
    await readAs(1);
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [candidate] });
    expect((await until(candidate, (now) => now.state === 'fitted')).problem).toBeNull();
  });

  it('does not hold up the one behind it', async () => {
    const first = (await add()).body.id;
    const second = (await add()).body.id;
    await client.send('POST', `/api/candidates/${first}/cancel`);
    expect((await until(second, (now) => now.state === 'fitted')).results).toBeDefined();
    expect((await line(first)).state).toBe('cancelled');
  });
});
