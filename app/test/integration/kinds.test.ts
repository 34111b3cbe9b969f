import Papa from 'papaparse';
import { beforeAll, describe, expect, it } from 'vitest';
import { facetOf } from '@rook-scale/core/families';
import type { Model } from '@rook-scale/core/model';
import { scorePatient, type PatientValues } from '@rook-scale/core/screening';
import { numbersOf } from '@rook-scale/core/outcome';
import type { CandidateDetail, CandidateLine, Predictions } from '../../src/contract/candidates.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import type { HeldOutView } from '../../src/contract/looks.ts';
import type { ScreenedRow, ScreeningView } from '../../src/contract/screenings.ts';
import { birthWeight } from '../support/birth-weight.ts';
import { liver } from '../support/liver.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
});

async function study(name: string, file: string, edit: Parameters<Client['bringIn']>[3]) {
  const id = await client.newStudy(name);
  const { body } = await client.bringIn(id, file, 'development', edit);
  return { id, cohort: body.id };
}

const add = async (id: string, family: string) =>
  (
    await client.send<{ id: string }>('POST', `/api/studies/${id}/candidates`, {
      family,
      settings: {},
    })
  ).body.id;

/** Every line of a list's file by the name of its column. */
async function linesOf(screening: string, reasons = 'no'): Promise<Record<string, string>[]> {
  const file = `${product.address}/api/screenings/${screening}/file?reasons=${reasons}`;
  const response = await fetch(file);
  const text = await response.text();
  return Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: true }).data;
}

describe('several ordered levels, all the way', () => {
  let id: string;
  let list: string;
  let candidates: CandidateLine[];
  const levels = ['stage 1', 'stage 2', 'stage 3', 'stage 4'];

  beforeAll(async () => {
    const made = await study('Stage of liver disease', liver(), (dictionary) => {
      for (const entry of dictionary) {
        if (entry.name === 'id') entry.role = 'identifier';
        if (entry.name === 'stage') {
          entry.kind = 'ordered category';
          entry.role = 'outcome';
        }
      }
    });
    id = made.id;
  });

  it('asks which levels are cases and which one the others are compared with', async () => {
    const open = await client.changeDesign(id, { kind: 'levels' });
    expect(open.body.questions).toEqual([
      'Choose the level of Stage that the others are compared with.',
      'Choose which levels of Stage are cases: some, not all.',
    ]);
    const all = await client.changeDesign(id, { reference: 'stage 1', cases: levels });
    expect(all.body.questions).toHaveLength(1);
    const { body } = await client.changeDesign(id, { cases: ['stage 4'], missedCost: 4 });
    expect(body.questions).toEqual([]);
    expect(body.obstacle).toBeNull();
    // 412 of 418 have a stage, 144 of them the fourth.
    const { development, heldOut, unused } = body.counts!;
    expect(development.patients + heldOut.patients).toBe(412);
    expect(development.events + heldOut.events).toBe(144);
    expect(unused).toBe(6);
  });

  it('fits what can predict levels, and refuses what cannot', async () => {
    const refused = await client.send<Refusal>('POST', `/api/studies/${id}/candidates`, {
      family: 'linear',
      settings: {},
    });
    expect([refused.status, refused.body.sentence]).toEqual([
      409,
      'Linear regression cannot predict several levels. Choose another family, or another outcome in Design.',
    ]);
    await add(id, 'multinomial');
    await add(id, 'proportional-odds');
    candidates = await client.fitted(id);
    expect(candidates.map(({ family, state }) => [family, state])).toEqual([
      ['reference', 'fitted'],
      ['multinomial', 'fitted'],
      ['proportional-odds', 'fitted'],
    ]);
    const [reference, multinomial, odds] = candidates.map(({ results }) => results!);
    for (const one of [multinomial, odds]) {
      expect(one.costPerThousand).toBeLessThan(reference.costPerThousand);
      expect(one.area!.mean).toBeGreaterThan(0.65);
      expect(one.figures!['right level'].value).toBeGreaterThan(0.4);
      expect(one.figures!['weighted kappa'].value).toBeGreaterThan(0.2);
    }
  });

  it('shows coefficients of each level against the reference, thresholds and their test', async () => {
    const [multinomial, odds] = await Promise.all(
      candidates.slice(1).map((line) => client.get<CandidateDetail>(`/api/candidates/${line.id}`)),
    );
    const { groups } = facetOf(multinomial.facets, 'coefficients')!;
    expect(groups.map(({ title }) => title)).toEqual(
      levels.slice(1).map((level) => `${level} against stage 1`),
    );
    expect(facetOf(odds.facets, 'coefficients')!.groups[1].lines.map(({ term }) => term)).toEqual([
      'stage 1 | stage 2',
      'stage 2 | stage 3',
      'stage 3 | stage 4',
    ]);
    expect(facetOf(odds.facets, 'proportionality')!.overall.degrees).toBeGreaterThan(0);
  });

  it('moves cutoff and cases without a fit; undo brings back what was', async () => {
    const wider = await client.changeDesign(id, { cases: ['stage 3', 'stage 4'] });
    const { development, heldOut } = wider.body.counts!;
    expect(development.events + heldOut.events).toBe(299);
    const [, line] = await client.fitted(id);
    expect([line.outOfDate, line.fittedAt]).toEqual([false, candidates[1].fittedAt]);
    expect(line.results!.table.found + line.results!.table.missed).toBe(development.events);
    await client.send('POST', `/api/studies/${id}/step`, { direction: 'undo' });
    const [, again] = await client.fitted(id);
    expect(again.results).toEqual(candidates[1].results);
  });

  it('scores a list: the share of every level, the likeliest, the call, and what came of it', async () => {
    const made = await client.bringIn(id, liver(), 'screening', (dictionary) => {
      for (const entry of dictionary) {
        if (entry.name === 'id') entry.role = 'identifier';
        if (entry.name === 'stage') entry.kind = 'ordered category';
      }
    });
    list = made.body.id;
    const scored = await client.send<{ id: string }>('POST', `/api/studies/${id}/screenings`, {
      cohort: list,
      candidate: candidates[1].id,
      accept: true,
      unchecked: true,
    });
    expect(scored.status).toBe(200);
    const view = await client.get<ScreeningView>(`/api/screenings/${scored.body.id}`);
    expect(view.outcome).toMatchObject({ levels, cases: { kind: 'levels', levels: ['stage 4'] } });
    expect(view.known!.patients + view.closed.heldOut).toBe(412);
    const lines = await linesOf(scored.body.id, 'yes');
    expect(Object.keys(lines[0])).toEqual([
      'patient',
      'row in file',
      'share of cases',
      'level',
      ...levels.map((level) => `share ${level}`),
      'call',
      'hardly seen before',
      'unusualness',
      'unusual',
      'reason 1',
      'reason 2',
      'reason 3',
      'order of reasons',
      ...['model', 'version', 'cutoff', 'scored at'],
    ]);
    const model = await client.get<Model>(`/api/candidates/${candidates[1].id}/model`);
    const patients = new Map(
      Papa.parse<Record<string, string>>(liver(), { header: true, skipEmptyLines: true }).data.map(
        (row) => [row.id, row],
      ),
    );
    for (const line of lines.slice(0, 60)) {
      const shares = levels.map((level) => Number(line[`share ${level}`]));
      expect(shares.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 12);
      expect(Number(line['share of cases'])).toBe(shares[3]);
      expect(line.level).toBe(levels[shares.indexOf(Math.max(...shares))]);
      expect(line.call).toBe(shares[3] >= view.calls.cutoff ? 'call in' : 'leave alone');
      const row = patients.get(line.patient)!;
      const values: PatientValues = Object.fromEntries(
        model.predictors.map(({ name, kind }) => [
          name,
          row[name] === '' ? null : kind === 'number' ? Number(row[name]) : row[name],
        ]),
      );
      expect([...numbersOf(scorePatient(model, values).predictions)]).toEqual(shares);
    }
    const {
      rows: [first],
    } = await client.get<{ rows: ScreenedRow[] }>(
      `/api/screenings/${scored.body.id}/rows?from=0&count=1`,
    );
    expect(first.shares!.map(String)).toEqual(levels.map((level) => lines[0][`share ${level}`]));
    await client.changeDesign(id, { cases: ['stage 3', 'stage 4'] });
    const after = await client.get<ScreeningView>(`/api/screenings/${scored.body.id}`);
    expect(after.outOfDate).toBe('cases');
  });

  it('gives the cheapest level where errors cost differently, without a fit', async () => {
    const before = await client.fitted(id);
    const distance = levels.map((_, i) => levels.map((__, j) => (i < j ? 1 : 5) * Math.abs(i - j)));
    const put = await client.changeDesign(id, { levelCosts: { levels, costs: distance } });
    expect(put.status).toBe(200);
    const after = await client.fitted(id);
    expect(after.map(({ fittedAt }) => fittedAt)).toEqual(before.map(({ fittedAt }) => fittedAt));
    // By hand, from the out-of-fold shares of every development patient.
    const { whole } = await client.get<Predictions>(`/api/candidates/${after[1].id}/predictions`);
    const bytes = (text: string) => Uint8Array.from(Buffer.from(text, 'base64')).buffer;
    const shares = new Float64Array(bytes(whole!.values));
    const truth = new Int32Array(bytes(whole!.outcome));
    const expected = (own: number[], given: number) =>
      own.reduce((sum, share, level) => sum + share * distance[level][given], 0);
    const cheapest = (own: number[]) => {
      const each = levels.map((_, given) => expected(own, given));
      return each.indexOf(Math.min(...each));
    };
    let cost = 0;
    truth.forEach((level, i) => {
      cost += distance[level][cheapest([...shares.subarray(4 * i, 4 * i + 4)])];
    });
    expect(after[1].results!.figures!['level cost'].value).toBeCloseTo(
      (1000 * cost) / truth.length,
      8,
    );
    const [screening] = await client.get<{ id: string; cohortId: string; candidateId: string }[]>(
      `/api/studies/${id}/screenings`,
    );
    // The list keeps the costs that it was scored with until it is scored again.
    for (const line of await linesOf(screening.id)) {
      const own = levels.map((level) => Number(line[`share ${level}`]));
      expect(line.level).toBe(levels[own.indexOf(Math.max(...own))]);
    }
    await client.send('POST', `/api/studies/${id}/screenings`, {
      ...{ cohort: screening.cohortId, candidate: screening.candidateId },
      ...{ accept: true, unchecked: true },
    });
    let moved = 0;
    for (const line of await linesOf(screening.id)) {
      const own = levels.map((level) => Number(line[`share ${level}`]));
      expect(line.level).toBe(levels[cheapest(own)]);
      moved += Number(own.indexOf(Math.max(...own)) !== cheapest(own));
    }
    expect(moved).toBeGreaterThan(0);
    const { development } = (await client.get<DesignState>(`/api/studies/${id}/design`)).counts!;
    const { levels: counts } = (await client.get<DesignState>(`/api/studies/${id}/design`)).counts!;
    expect(counts!.reduce((sum, count) => sum + count, 0)).toBe(development.patients);
    const cut = await client.changeDesign(id, { levelCosts: { levels, costs: [[0, 1]] } });
    expect(cut.status).toBe(400);
  });
});

describe('a number, all the way', () => {
  let id: string;
  let lines: CandidateLine[];

  beforeAll(async () => {
    const made = await study('Birth weight', birthWeight, (dictionary) => {
      for (const entry of dictionary) {
        if (entry.name === 'race') entry.kind = 'category';
        if (entry.name === 'bwt') {
          entry.role = 'outcome';
          entry.unit = 'g';
        }
        if (entry.name === 'low') entry.role = 'set aside';
      }
    });
    id = made.id;
  });

  it('is predicted as one, and asks from which value on a patient is a case', async () => {
    const { choices, questions } = await client.get<DesignState>(`/api/studies/${id}/design`);
    expect(choices.kind).toBe('number');
    expect(questions).toEqual(['Say from which Bwt on a patient is a case.']);
    // Hosmer & Lemeshow (1989): low is under 2500 g; 59 of 189 mothers.
    const { body } = await client.changeDesign(id, {
      caseFrom: 2499,
      caseSide: 'up to',
      missedCost: 4,
    });
    expect(body.questions).toEqual([]);
    const { development, heldOut } = body.counts!;
    expect(development.events + heldOut.events).toBe(59);
  });

  it('is fitted by least squares, and judged by errors in its unit as well as by cases', async () => {
    await add(id, 'linear');
    lines = await client.fitted(id);
    const [reference, linear] = lines.map(({ results }) => results!);
    expect(linear.figures!.rmse.value).toBeLessThan(reference.figures!.rmse.value!);
    expect(linear.figures!['r squared'].value).toBeGreaterThan(0.05);
    expect(linear.costPerThousand).toBeLessThan(reference.costPerThousand);
    const { facets } = await client.get<CandidateDetail>(`/api/candidates/${lines[1].id}`);
    expect(facetOf(facets, 'variance')!.patients).toBe(
      lines[1].results!.table.found +
        lines[1].results!.table.missed +
        lines[1].results!.table.falseAlarms +
        lines[1].results!.table.rightlyLeft,
    );
  });

  it('takes the cutoff in its own unit, and counts the held-out patients by hand', async () => {
    const put = await client.send('PUT', `/api/candidates/${lines[1].id}/cutoff`, {
      rule: 'hand',
      cutoff: -2900,
    });
    expect(put.status).toBe(200);
    const { body } = await client.send<HeldOutView>('POST', `/api/studies/${id}/looks`, {
      candidate: lines[1].id,
    });
    expect(body.cutoff).toBe(-2900);
    const numbers = (text: string) =>
      new Float64Array(Uint8Array.from(Buffer.from(text, 'base64')).buffer);
    const { whole, risks, events } = body.predictions;
    const predicted = numbers(whole!.values);
    const observed = numbers(whole!.outcome);
    const cases = [...Buffer.from(events, 'base64')];
    expect(numbers(risks)).toEqual(predicted.map((value) => -value));
    expect(cases).toEqual([...observed].map((value) => Number(value <= 2499)));
  });

  it('scores a list with the predicted number, its interval and the call', async () => {
    const made = await client.bringIn(id, birthWeight, 'screening', (dictionary) => {
      for (const entry of dictionary) if (entry.name === 'race') entry.kind = 'category';
    });
    const scored = await client.send<{ id: string }>('POST', `/api/studies/${id}/screenings`, {
      cohort: made.body.id,
      candidate: lines[1].id,
      accept: true,
      unchecked: true,
    });
    expect(scored.status).toBe(200);
    const file = await linesOf(scored.body.id);
    const values = file.map((line) => Number(line['predicted Bwt (g)']));
    expect([...values].sort((a, b) => a - b)).toEqual(values);
    for (const line of file) {
      const [value, from, to] = ['predicted Bwt (g)', '95% from', '95% to'].map((name) =>
        Number(line[name]),
      );
      expect((from + to) / 2).toBeCloseTo(value, 6);
      expect(to - from).toBeGreaterThan(2000);
      expect(line.call).toBe(value <= 2900 ? 'call in' : 'leave alone');
    }
    const known = (await client.get<ScreeningView>(`/api/screenings/${scored.body.id}`)).known!;
    expect(known.patients).toBe(189);
  });

  it('can be switched to yes or no and back, and undo brings the fits back as current', async () => {
    const before = await client.fitted(id);
    await client.changeDesign(id, { outcome: 'low', event: 'yes' });
    const switched = await client.fitted(id);
    expect(switched.find(({ family }) => family === 'linear')!.outOfDate).toBe(true);
    expect(switched[0].results!.figures).toBeUndefined();
    await client.send('POST', `/api/studies/${id}/step`, { direction: 'undo' });
    const back = await client.fitted(id);
    const linear = back.find(({ family }) => family === 'linear')!;
    expect(linear.outOfDate).toBe(false);
    expect(linear.results).toEqual(before[1].results);
    expect(back[0].outOfDate).toBe(false);
  });
});
