import { beforeAll, describe, expect, it } from 'vitest';
import Papa from 'papaparse';
import { facetOf } from '@rook-scale/core/families';
import { unpackNumbers } from '../../src/browser/api.ts';
import type { CandidateDetail, CandidateLine, Predictions } from '../../src/contract/candidates.ts';
import type { HeldOutView } from '../../src/contract/looks.ts';
import type { ScreenedRow, ScreeningView } from '../../src/contract/screenings.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';
import { later, liverStudy } from '../support/liver-study.ts';

let product: LaneProduct;
let client: Client;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
});

const send = <T = { id: string }>(path: string, body: unknown) =>
  client.send<T & Refusal>('POST', path, body);

async function fit(study: string, family: string, rest: object = {}): Promise<CandidateLine> {
  const { body } = await send(`/api/studies/${study}/candidates`, {
    family,
    settings: {},
    ...rest,
  });
  return fittedLine(study, body.id);
}

async function blend(study: string, parts: CandidateLine[], weights = 'learned') {
  const candidates = parts.map(({ id }) => id);
  const { body } = await send(`/api/studies/${study}/candidates/blends`, { candidates, weights });
  return fittedLine(study, body.id);
}

async function fittedLine(study: string, id: string): Promise<CandidateLine> {
  const line = (await client.fitted(study)).find((one) => one.id === id)!;
  expect(line.problem).toBeNull();
  return line;
}

async function weightsOf({ id }: CandidateLine): Promise<number[]> {
  const { facets } = await client.get<CandidateDetail>(`/api/candidates/${id}`);
  return facetOf(facets, 'blend')!.parts.map(({ weight }) => weight);
}

/** Everything that is predicted of each: the risk, or the shares of all levels, or the number. */
const saidIn = ({ whole, risks }: Predictions): Float64Array =>
  unpackNumbers(whole?.values ?? risks);

async function heldOut(study: string, candidate: CandidateLine): Promise<Float64Array> {
  const { body } = await send<HeldOutView>(`/api/studies/${study}/looks`, {
    candidate: candidate.id,
  });
  return saidIn(body.predictions);
}

async function risksInList(study: string, candidate: CandidateLine, cohort: string) {
  const { body, status } = await send(`/api/studies/${study}/screenings`, {
    cohort,
    candidate: candidate.id,
    accept: true,
    unchecked: true,
  });
  expect(status).toBe(200);
  const { rows } = await client.get<{ rows: ScreenedRow[] }>(
    `/api/screenings/${body.id}/rows?from=0&count=500`,
  );
  return { id: body.id, risks: rows.toSorted((a, b) => a.row - b.row).map(({ risk }) => risk) };
}

/** The list with gaps, a level that nobody had, and a column that is not there. */
const awkward = later.map(({ protime: _, ...row }, i) => ({
  ...row,
  chol: i % 3 === 0 ? '' : row.chol,
  edema: i === 4 ? '0.75' : row.edema,
}));

describe.each(['dead4y', 'stage', 'albumin'] as const)('a blend that predicts %s', (column) => {
  const straight = { dead4y: 'logistic', stage: 'multinomial', albumin: 'linear' }[column];

  it('says of held-out and listed patients the weighted sum of what its parts say', async () => {
    const study = await liverStudy(client, `Blend, ${column}`, column);
    const own = { basis: { own: ['bili', 'age', 'chol', 'protime'] } };
    const forest = await fit(study, 'random-forest', { settings: { trees: 30 } });
    const parts = [await fit(study, straight, own), forest];
    const line = await blend(study, parts);
    expect(line).toMatchObject({ name: 'Blend 3', outOfDate: false });
    expect(line.uses.toSorted()).toEqual([...parts[1].uses].toSorted());
    const [a, b] = await weightsOf(line);
    expect(a + b).toBeCloseTo(1, 12);
    expect(Math.min(a, b)).toBeGreaterThanOrEqual(0);
    const said = await Promise.all([...parts, line].map((one) => heldOut(study, one)));
    said[2].forEach((value, i) => expect(value).toBeCloseTo(a * said[0][i] + b * said[1][i], 12));
    if (column !== 'dead4y') return;
    expect(Math.min(a, b)).toBeGreaterThan(0);
    const { body: cohort } = await client.bringIn(
      study,
      Papa.unparse(awkward),
      'screening',
      (entries) => {
        entries[0].role = 'identifier';
        for (const entry of entries) if (entry.name === 'edema') entry.kind = 'category';
      },
    );
    const [one, other, together] = [
      await risksInList(study, parts[0], cohort.id),
      await risksInList(study, parts[1], cohort.id),
      await risksInList(study, line, cohort.id),
    ];
    expect(together.risks).toHaveLength(awkward.length);
    together.risks.forEach((risk, i) =>
      expect(risk).toBeCloseTo(a * one.risks[i]! + b * other.risks[i]!, 12),
    );
    const { predictors } = await client.get<ScreeningView>(`/api/screenings/${together.id}`);
    const told = (name: string) => predictors.find((one) => one.name === name)!.treatment;
    expect(told('chol')).toContain('each part of the blend takes them its own way');
    expect(told('protime')).toContain('not in the file');
  });
});

describe('a blend', () => {
  it('of equal weights is the average out of fold, and stays what it is without its candidates', async () => {
    const study = await liverStudy(client, 'Average', 'dead4y');
    const parts = [await fit(study, 'logistic'), await fit(study, 'decision-tree')];
    const line = await blend(study, parts, 'equal');
    expect(await weightsOf(line)).toEqual([0.5, 0.5]);
    const outOfFold = async ({ id }: CandidateLine) =>
      saidIn(await client.get<Predictions>(`/api/candidates/${id}/predictions`));
    const [one, other, together] = await Promise.all([...parts, line].map(outOfFold));
    together.forEach((risk, i) => expect(risk).toBeCloseTo((one[i] + other[i]) / 2, 12));
    await client.send('DELETE', `/api/candidates/${parts[0].id}`);
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [line.id] });
    const again = await fittedLine(study, line.id);
    expect(again.parts!.map(({ name }) => name)).toEqual(parts.map(({ name }) => name));
    expect(await outOfFold(again)).toEqual(together);
  });

  it('is out of date where one of its parts would be', async () => {
    const study = await liverStudy(client, 'Changes', 'dead4y');
    const own = { basis: { own: ['bili', 'age'] } };
    const apart = [
      await fit(study, 'logistic', own),
      await fit(study, 'decision-tree', { basis: { own: ['bili', 'sex'] } }),
    ];
    const free = await blend(study, apart);
    const bound = await blend(study, [apart[0], await fit(study, 'decision-tree')]);
    await client.changeDesign(study, { predictors: ['bili', 'age', 'sex'] });
    const isOld = async () => {
      const lines = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
      return [free, bound].map(({ id }) => lines.find((line) => line.id === id)!.outOfDate);
    };
    expect(await isOld()).toEqual([false, true]);
    const changed = await client.changeDesign(study, {
      kind: 'number',
      outcome: 'albumin',
      caseFrom: 3,
      caseSide: 'up to',
    });
    expect(changed.status).toBe(200);
    const refused = await client.send<Refusal>('PUT', `/api/studies/${study}/candidates`, {
      candidates: [bound.id],
    });
    expect(refused).toMatchObject({ status: 409, body: { code: 'other-kind' } });
    expect(refused.body.sentence).toContain('Logistic regression cannot predict a number');
  });

  it('is refused in a sentence where it cannot be made', async () => {
    const study = await liverStudy(client, 'Refusals', 'dead4y');
    const elsewhere = await liverStudy(client, 'Elsewhere', 'dead4y');
    const stranger = await fit(elsewhere, 'logistic');
    const [logistic, tree] = [await fit(study, 'logistic'), await fit(study, 'decision-tree')];
    const made = await blend(study, [logistic, tree], 'equal');
    const reference = (await client.fitted(study)).find(({ family }) => family === 'reference')!;
    const path = `/api/studies/${study}/candidates/blends`;
    const ask = (...parts: CandidateLine[]) =>
      send(path, { candidates: parts.map(({ id }) => id), weights: 'learned' });
    const sentence = async (...parts: CandidateLine[]) => {
      const { status, body } = await ask(...parts);
      expect(status).toBeGreaterThanOrEqual(400);
      return body.sentence;
    };
    expect(await sentence(logistic)).toContain('at least two candidates');
    expect(await sentence(logistic, logistic)).toContain('two different candidates');
    expect(await sentence(logistic, reference)).toContain('Reference learns nothing');
    expect(await sentence(logistic, made)).toBe(
      'Blend 3 is a blend itself. Choose its parts instead.',
    );
    expect((await ask(logistic, stranger)).status).toBe(404);
    for (const [where, body] of [
      ['candidates', { family: 'blend', settings: {} }],
      ['candidates/several', { families: ['blend'] }],
      [
        'searches',
        {
          family: 'blend',
          plan: {
            fixed: {},
            way: { kind: 'all' },
            measure: 'auc',
            tried: { weights: ['learned', 'equal'] },
          },
        },
      ],
    ] as const)
      expect((await send(`/api/studies/${study}/${where}`, body)).body.code).toBe('no-parts');
    // Nothing came of any of these.
    expect(await client.fitted(study)).toHaveLength(4);
  });

  it('cannot learn weights from two folds, and says what to do', async () => {
    const study = await liverStudy(client, 'Two folds', 'dead4y');
    await client.changeDesign(study, { folds: { way: 'by chance', count: 2 } });
    const parts = [await fit(study, 'logistic'), await fit(study, 'decision-tree')];
    const { body } = await send(`/api/studies/${study}/candidates/blends`, {
      candidates: parts.map(({ id }) => id),
      weights: 'learned',
    });
    const line = (await client.fitted(study)).find(({ id }) => id === body.id)!;
    expect(line.state).toBe('failed');
    expect(line.problem).toContain('Deal three folds or more in Design');
    expect((await blend(study, parts, 'equal')).state).toBe('fitted');
  });
});

describe('a recalibrated candidate', () => {
  const recalibrate = (study: string, { id }: CandidateLine, how: string) =>
    send(`/api/studies/${study}/candidates/recalibrated`, { candidate: id, how });

  it('moves what its candidate says of held-out and listed patients, gaps and all', async () => {
    const study = await liverStudy(client, 'Recalibrated', 'dead4y');
    const tree = await fit(study, 'decision-tree', { settings: { size: 'all', leastLeaf: 6 } });
    const { body } = await recalibrate(study, tree, 'line');
    const line = await fittedLine(study, body.id);
    expect(line).toMatchObject({ name: 'Recalibrated 2', outOfDate: false });
    expect(line.uses.toSorted()).toEqual(tree.uses.toSorted());
    const { facets } = await client.get<CandidateDetail>(`/api/candidates/${line.id}`);
    const shown = facetOf(facets, 'recalibration')!;
    const { line: moved, before, after, cases, patients } = shown;
    // A tree grown out is too sure of itself.
    expect(moved!.slope).toBeLessThan(0.8);
    // Judged by maps of the other folds, which with so few patients may lose more than they mend.
    const share = cases / patients;
    expect(Math.abs(after.told - share)).toBeLessThan(Math.abs(before.told - share) + 0.02);
    expect(after.logLoss).not.toBe(before.logLoss);
    const odds = (risk: number) => Math.log(risk / (1 - risk));
    const check = (told: number, now: number) => {
      if (told > 0.01 && told < 0.99)
        expect(odds(now)).toBeCloseTo(moved!.constant + moved!.slope * odds(told), 8);
    };
    const [told, now] = [await heldOut(study, tree), await heldOut(study, line)];
    told.forEach((risk, i) => check(risk, now[i]));
    const { body: cohort } = await client.bringIn(study, Papa.unparse(awkward), 'screening');
    const [one, other] = [
      await risksInList(study, tree, cohort.id),
      await risksInList(study, line, cohort.id),
    ];
    one.risks.forEach((risk, i) => check(risk!, other.risks[i]!));
    const { predictors } = await client.get<ScreeningView>(`/api/screenings/${other.id}`);
    const lacking = predictors.filter(({ gaps, isUnused }) => gaps > 0 && !isUnused);
    expect(lacking.length).toBeGreaterThan(0);
    for (const { treatment } of lacking)
      expect(treatment).toContain('the candidate that is recalibrated takes them its own way');
  });

  it('is refused in a sentence where it cannot be made', async () => {
    const study = await liverStudy(client, 'Not recalibrated', 'dead4y');
    const logistic = await fit(study, 'logistic');
    const reference = (await client.fitted(study)).find(({ family }) => family === 'reference')!;
    expect((await recalibrate(study, reference, 'line')).body.sentence).toBe(
      'Reference learns nothing from predictors, and cannot be recalibrated.',
    );
    const made = await fittedLine(study, (await recalibrate(study, logistic, 'isotonic')).body.id);
    expect((await recalibrate(study, made, 'line')).body.sentence).toBe(
      `${made.name} is recalibrated already. Choose the candidate that it was made of instead.`,
    );
    expect((await recalibrate(study, logistic, 'sideways')).status).toBe(400);
    const number = await liverStudy(client, 'A number', 'albumin');
    const linear = await fit(number, 'linear');
    expect((await recalibrate(number, linear, 'line')).body.sentence).toContain(
      'Recalibrated cannot predict a number',
    );
  });
});

describe('a candidate with steps of its own', () => {
  it('is what it would be if the design had these, and keeps them', async () => {
    const study = await liverStudy(client, 'Steps', 'dead4y');
    const plain = await fit(study, 'logistic');
    const clip = { step: 'clip', columns: ['bili'], to: 'quantiles', share: 0.1 } as const;
    const reshape = { step: 'reshape', columns: ['bili'], how: 'log', lambda: null } as const;
    const { status } = await client.changeDesign(study, { preparation: [clip, reshape] as never });
    expect(status).toBe(200);
    const both = await fit(study, 'logistic');
    const none = await fit(study, 'logistic', { basis: { steps: [] } });
    const one = await fit(study, 'logistic', { basis: { steps: [clip] } });
    const said = async ({ id }: CandidateLine) =>
      saidIn(await client.get<Predictions>(`/api/candidates/${id}/predictions`));
    expect(await said(none)).toEqual(await said(plain));
    expect(await said(one)).not.toEqual(await said(both));
    await client.changeDesign(study, { preparation: [clip] as never });
    const lines = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
    const isOld = ({ id }: CandidateLine) => lines.find((line) => line.id === id)!.outOfDate;
    expect([both, none, one].map(isOld)).toEqual([true, false, false]);
    await client.send('PUT', `/api/studies/${study}/candidates`, { candidates: [both.id] });
    await client.fitted(study);
    expect(await said(both)).toEqual(await said(one));
  });

  it('tells how large it is, and how fast it scores', async () => {
    const study = await liverStudy(client, 'Sizes', 'dead4y');
    const tree = await fit(study, 'decision-tree', { settings: { size: 'all', leastLeaf: 30 } });
    const { facets } = await client.get<CandidateDetail>(`/api/candidates/${tree.id}`);
    const shown = facetOf(facets, 'tree')!;
    expect(tree.size!.leaves).toBe(shown.nodes.filter(({ left }) => left === undefined).length);
    const forest = await fit(study, 'random-forest', { settings: { trees: 25 } });
    expect(forest.size).toMatchObject({ trees: 25, inputs: 8 });
    const logistic = await fit(study, 'logistic', { basis: { own: ['bili', 'age', 'sex'] } });
    expect(logistic.size).toEqual({ inputs: 3, degrees: 3, predictors: 3 });
    for (const { scoreTime } of [tree, forest, logistic]) expect(scoreTime).toBeGreaterThan(0);
  });
});
