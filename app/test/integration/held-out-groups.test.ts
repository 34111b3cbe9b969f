import Papa from 'papaparse';
import { beforeAll, describe, expect, it } from 'vitest';
import { unpackColumn } from '../../src/browser/columns.ts';
import { unpackBytes, unpackNumbers } from '../../src/browser/api.ts';
import { areaUnderCurve } from '@rook-scale/core/measures';
import { unpackOutcome } from '@rook-scale/core/outcome';
import type { CandidateLine, Predictions } from '../../src/contract/candidates.ts';
import type { HeldOutView, Look, SeveralHeldOut, WrongShown } from '../../src/contract/looks.ts';
import type { PackedColumn } from '../../src/contract/surveys.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';
import { first, liverStudy } from '../support/liver-study.ts';

let product: LaneProduct;
let client: Client;
let study: string;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
  study = await liverStudy(client, 'By groups', 'dead4y');
});

const add = async (family: string) => {
  const path = `/api/studies/${study}/candidates`;
  const { body } = await client.send<{ id: string }>('POST', path, { family, settings: {} });
  await client.fitted(study);
  return body.id;
};

/** The fit that a candidate has now. */
async function fitOf(candidate: string): Promise<string> {
  const lines = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
  const { fittedAt } = lines.find(({ id }) => id === candidate)!;
  return `candidate=${candidate}&fittedAt=${fittedAt}`;
}

const column = async (candidate: string, name: string, of = study) =>
  client.send<PackedColumn & Refusal>(
    'GET',
    `/api/studies/${of}/looks/column?${await fitOf(candidate)}&name=${encodeURIComponent(name)}`,
  );

const look = async (candidate: string): Promise<HeldOutView> =>
  (await client.send<HeldOutView>('POST', `/api/studies/${study}/looks`, { candidate })).body;

describe('several candidates on the held-out patients', () => {
  const several = (candidates: string[]) =>
    client.send<SeveralHeldOut & Refusal>('POST', `/api/studies/${study}/looks/several`, {
      candidates,
    });
  const looks = () => client.get<Look[]>(`/api/studies/${study}/looks`);

  it('are one look, and their figures are those of each by itself', async () => {
    const before = (await looks()).length;
    const ids = [await add('logistic'), await add('decision-tree'), await add('naive-bayes')];
    const { body } = await several(ids);
    const after = await looks();
    expect(after).toHaveLength(before + 1);
    expect(after.at(-1)!.candidate).toMatch(/^Logistic regression \d+, Decision tree \d+, Naive/);
    expect(body.looks).toEqual(after);
    // Each was looked at: none counts again today, alone or with others.
    const alone = await Promise.all(ids.map(look));
    await several([ids[2], ids[0]]);
    expect(await looks()).toHaveLength(before + 1);
    const figures = alone.map(({ predictions, cutoff }) => {
      const [risks, events] = [unpackNumbers(predictions.risks), unpackBytes(predictions.events)];
      const right = (is: number) => {
        const of = Array.from(events.keys()).filter((i) => events[i] === is);
        return of.filter((i) => risks[i] >= cutoff === (is === 1)).length / of.length;
      };
      return {
        area: areaUnderCurve(risks, events)!.value,
        sensitivity: right(1),
        specificity: right(0),
      };
    });
    expect(body.curves.map(({ area }) => area!.value)).toEqual(figures.map(({ area }) => area));
    body.compared.forEach(({ measures, patients, times }, k) => {
      expect(patients).toBe(unpackBytes(alone[0].predictions.events).length);
      expect(times).toBe(1);
      for (const measure of ['area', 'sensitivity', 'specificity'] as const) {
        const { values, interval } = measures.find(({ id }) => id === measure)!;
        expect(values[0]).toBeCloseTo(figures[k + 1][measure], 10);
        expect(values[1]).toBeCloseTo(figures[0][measure], 10);
        expect(interval![0]).toBeLessThanOrEqual(interval![1]);
      }
    });
  });

  it('are refused in a sentence where they cannot stand beside each other', async () => {
    const id = await add('logistic');
    const before = (await looks()).length;
    expect((await several([id])).body.sentence).toContain('Choose another candidate');
    expect((await several([id, id])).body.sentence).toContain('Each candidate once');
    await client.changeDesign(study, { seed: 99 });
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [id] });
    await client.fitted(study);
    const other = await add('naive-bayes');
    const stale = (await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`)).find(
      ({ outOfDate, family }) => outOfDate && family !== 'reference',
    )!;
    expect((await several([other, stale.id])).body.sentence).toContain(
      'were not fitted on the same patients and folds',
    );
    // Nobody was looked at.
    expect(await looks()).toHaveLength(before);
    await client.changeDesign(study, { seed: 1 });
  });

  it('have a reference that knows nobody, where what is predicted is a number', async () => {
    const other = await liverStudy(client, 'Reference of numbers', 'albumin');
    const path = `/api/studies/${other}`;
    await client.send('POST', `${path}/candidates`, { family: 'linear', settings: {} });
    const [, linear] = await client.fitted(other);
    const { body } = await client.send<HeldOutView>('POST', `${path}/looks`, {
      candidate: linear.id,
    });
    // The mean of the development patients, not of those held out.
    const predictions = await client.get<Predictions>(`/api/candidates/${linear.id}/predictions`);
    const { header, outcome } = predictions.whole!;
    const known = unpackOutcome({ header, bytes: unpackBytes(outcome) });
    if (known.kind !== 'number') throw new Error('A number was asked for.');
    const mean = known.values.reduce((sum, one) => sum + one, 0) / known.values.length;
    expect(body.reference).toHaveLength(1);
    expect(body.reference![0]).toBeCloseTo(mean, 10);
  });
});

describe('a column of the held-out patients', () => {
  it('is given to nobody who has not looked at this fit, and counts no look itself', async () => {
    const id = await add('logistic');
    const refused = await column(id, 'sex');
    expect(refused).toMatchObject({ status: 409, body: { code: 'not-looked' } });
    const { looks } = await look(id);
    expect((await column(id, 'sex')).status).toBe(200);
    const again = await client.get<unknown[]>(`/api/studies/${study}/looks`);
    expect(again).toHaveLength(looks.length);
    // A look at one candidate opens nothing beside another, nor beside another fit.
    const other = await add('decision-tree');
    expect((await column(other, 'sex')).body.code).toBe('not-looked');
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [id] });
    await client.fitted(study);
    expect((await column(id, 'sex')).body.code).toBe('not-looked');
  });

  it('lies in the order of what was predicted, as the file has it', async () => {
    const id = await add('logistic');
    const { predictions } = await look(id);
    const events = unpackBytes(predictions.events);
    const heldOut = first.slice(200, 260);
    expect(Papa.unparse(heldOut.map(({ dead4y }) => [dead4y]))).toBe(
      Papa.unparse(Array.from(events, (event) => [event])),
    );
    const sex = unpackColumn((await column(id, 'sex')).body);
    expect(sex.type === 'coded' && Array.from(sex.codes, (code) => sex.levels[code])).toEqual(
      heldOut.map((row) => row.sex),
    );
    const chol = unpackColumn((await column(id, 'chol')).body);
    expect(chol.type === 'number' && Array.from(chol.values)).toEqual(
      heldOut.map((row) => (row.chol === '' ? NaN : Number(row.chol))),
    );
  });

  it('is refused where there is none such, and to another study', async () => {
    const id = await add('logistic');
    await look(id);
    expect((await column(id, 'nothing')).status).toBe(404);
    const elsewhere = await client.newStudy('Elsewhere');
    expect((await column(id, 'sex', elsewhere)).status).toBe(404);
  });
});

describe('who was wrong', () => {
  const wrong = async (candidate: string, cutoff: number, fit = fitOf(candidate)) =>
    client.send<WrongShown & Refusal>(
      'GET',
      `/api/studies/${study}/looks/wrong?${await fit}&cutoff=${cutoff}`,
    );

  it('is told nobody before a look', async () => {
    expect((await wrong(await add('logistic'), 0.5)).body.code).toBe('not-looked');
  });

  it('are those whose call and outcome differ, by hand, under the names of the file', async () => {
    const id = await add('logistic');
    const { predictions } = await look(id);
    const [risks, events] = [unpackNumbers(predictions.risks), unpackBytes(predictions.events)];
    for (const cutoff of [0.3, 0.6]) {
      const { body, status } = await wrong(id, cutoff);
      expect(status).toBe(200);
      const expected = Array.from(risks, (risk, i) => ({ risk, i }))
        .filter(({ risk, i }) => risk >= cutoff !== (events[i] === 1))
        .toSorted((a, b) => Math.abs(b.risk - cutoff) - Math.abs(a.risk - cutoff));
      expect(body.patients.map(({ name }) => name)).toEqual(
        expected.map(({ i }) => first[200 + i].id),
      );
      expect(body.patients.map(({ score }) => score)).toEqual(expected.map(({ risk }) => risk));
      expect(body.missed).toBe(expected.filter(({ i }) => events[i] === 1).length);
      expect(body.missed + body.falseAlarms).toBe(expected.length);
    }
  });

  it('are nobody while the candidate is fitted again, or where that came to no end', async () => {
    const id = await add('logistic');
    await look(id);
    const fit = await fitOf(id);
    // Other patients are held out now, and the old predictions are not theirs.
    await client.changeDesign(study, { split: { way: 'by rows', from: 1, to: 60 } });
    expect((await wrong(id, 0.5)).status).toBe(200);
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [id] });
    await client.send('POST', `/api/candidates/${id}/cancel`);
    const refused = [await wrong(id, 0.5, Promise.resolve(fit)), await column(id, 'sex')];
    const lines = await client.fitted(study);
    // It may have been fitted before it could be called off.
    const { state } = lines.find((line) => line.id === id)!;
    expect(['cancelled', 'fitted']).toContain(state);
    for (const { status, body } of refused) {
      expect(status).toBe(409);
      expect(['other-fit', 'not-looked']).toContain(body.code);
    }
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [id] });
    await client.fitted(study);
    // The look was at the fit before; asked with that it is another fit.
    expect((await wrong(id, 0.5, Promise.resolve(fit))).body.code).toBe('other-fit');
    await look(id);
    const { body } = await wrong(id, 0.5);
    for (const { name } of body.patients)
      expect(first.slice(0, 60).map((row) => row.id)).toContain(name);
  });
});
