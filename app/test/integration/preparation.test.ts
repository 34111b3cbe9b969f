import { beforeAll, describe, expect, it } from 'vitest';
import type { Design } from '@rook-scale/core/design';
import { facetOf } from '@rook-scale/core/families';
import { effectsLike, type FittedPreparation } from '@rook-scale/core/preparation';
import type { CandidateDetail, CandidateLine } from '../../src/contract/candidates.ts';
import type { DesignState, StepShown } from '../../src/contract/designs.ts';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { ScreeningView } from '../../src/contract/screenings.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
});

const [header, ...lines] = birthWeight.trim().split('\n');
const names = header.split(',');
const cell = (line: string, name: string) => line.split(',')[names.indexOf(name)];

/** Low birth weight with holes in the weights: every ninth is not known. */
const withGaps = [
  header,
  ...lines.map((line, i) =>
    i % 9 === 4
      ? line
          .split(',')
          .map((value, j) => (names[j] === 'lwt' ? '' : value))
          .join(',')
      : line,
  ),
].join('\n');

async function fitted(name: string, part: Partial<Design>, file = birthWeight) {
  const study = await client.newStudy(name);
  await client.bringIn(study, file, 'development', asPublished);
  const { body } = await client.changeDesign(study, { event: 'yes', ...part });
  await client.send('POST', `/api/studies/${study}/candidates`, {
    family: 'logistic',
    settings: {},
  });
  const [, candidate] = await client.fitted(study);
  return { study, candidate, design: body };
}

/** Scores a list with the columns read as in development. */
async function score(study: string, candidate: string, list: string) {
  const { dictionary } = await client.get<CohortInfo>(`/api/studies/${study}/development`);
  const cohort = (
    await client.bringIn(study, list, 'screening', (own) => {
      for (const entry of own) {
        const same = dictionary.find((one) => one.name === entry.name);
        if (same) Object.assign(entry, { ...same, format: entry.format });
      }
    })
  ).body.id;
  const answer = await client.send<{ id: string } & Refusal>(
    'POST',
    `/api/studies/${study}/screenings`,
    { cohort, candidate, accept: true, unchecked: true },
  );
  const view = await client.get<ScreeningView>(`/api/screenings/${answer.body.id}`);
  const risks = new Float64Array(Uint8Array.from(Buffer.from(view.risks, 'base64')).buffer);
  return { view, risks };
}

interface ModelFile {
  preparation: { steps: { step: string; learned: unknown }[] };
}

// The caller says what the step has learned; a wrong word fails its checks.
// eslint-disable-next-line @typescript-eslint/no-unnecessary-type-parameters
const learnedBy = <T>(model: ModelFile, step: string) =>
  model.preparation.steps.find((one) => one.step === step)!.learned as T;

describe('a candidate on an arranged preparation', () => {
  it('gives later patients the risk that the steps and coefficients give by hand', async () => {
    const { study, candidate } = await fitted(
      'By hand',
      {
        predictors: ['age', 'lwt', 'smoke'],
        preparation: [
          {
            step: 'fill',
            columns: ['lwt'],
            how: 'mean',
            value: '',
            neighbours: 5,
            rounds: 5,
            mark: true,
          },
          { step: 'reshape', columns: ['lwt'], how: 'log', lambda: null },
          { step: 'products', pairs: [['age', 'lwt']] },
        ],
      },
      withGaps,
    );
    expect(candidate.state).toBe('fitted');
    const detail = await client.get<CandidateDetail>(`/api/candidates/${candidate.id}`);
    expect(detail.inputs.map(({ name }) => name)).toEqual([
      'age',
      'lwt',
      'lwt not known',
      'smoke = yes',
      'age × lwt',
    ]);
    const model = await client.get<ModelFile>(`/api/candidates/${candidate.id}/model`);
    const { columns } = learnedBy<{ columns: { number: number }[] }>(model, 'fill');
    const [{ centres }] = learnedBy<{ centres: [number, number] }[]>(model, 'products');
    const scale = new Map(
      learnedBy<{ column: string; mean: number; sd: number }[]>(model, 'standardise').map((one) => [
        one.column,
        one,
      ]),
    );
    const z = (name: string, value: number) =>
      (value - scale.get(name)!.mean) / scale.get(name)!.sd;
    const { groups } = facetOf(detail.facets, 'coefficients')!;
    const b = new Map(groups[0].lines.map(({ term, estimate }) => [term, estimate!]));
    const byHand = (age: number, lwt: number | null, smokes: boolean) => {
      const weight = Math.log(lwt ?? columns[0].number);
      const sum =
        [...b].find(([name]) => !detail.inputs.some((input) => input.name === name))![1] +
        b.get('age')! * z('age', age) +
        b.get('lwt')! * z('lwt', weight) +
        b.get('lwt not known')! * Number(lwt === null) +
        b.get('smoke = yes')! * Number(smokes) +
        b.get('age × lwt')! * z('age × lwt', (age - centres[0]) * (weight - centres[1]));
      return 1 / (1 + Math.exp(-sum));
    };
    const patients: [number, number | null, boolean][] = [
      [22, 130, true],
      [35, null, false],
      [18, 97, false],
    ];
    const list = `age,lwt,smoke\n${patients.map(([age, lwt, smokes]) => `${age},${lwt ?? ''},${Number(smokes)}`).join('\n')}\n`;
    const { risks, view } = await score(study, candidate.id, list);
    patients.forEach((patient, i) => expect(risks[i]).toBeCloseTo(byHand(...patient), 10));
    const treatment = view.predictors.find(({ name }) => name === 'lwt')!.treatment;
    expect(treatment).toContain('1 not known: filled with the mean');
  });

  it('learned from balanced patients, gives later ones the risk at the true share of cases', async () => {
    const { study, candidate } = await fitted('Balanced', {
      predictors: ['age', 'lwt'],
      balancing: { way: 'weights', share: 0.5 },
    });
    expect(candidate.warnings.map(({ code }) => code)).toContain('balanced');
    const detail = await client.get<CandidateDetail>(`/api/candidates/${candidate.id}`);
    const model = await client.get<ModelFile & { correction: { share: number; learned: number } }>(
      `/api/candidates/${candidate.id}/model`,
    );
    const { share, learned } = model.correction;
    const { counts } = await client.get<DesignState>(`/api/studies/${study}/design`);
    const { patients, events } = counts!.development;
    expect(share).toBeCloseTo(events / patients, 12);
    expect(learned).toBe(0.5);
    const { groups } = facetOf(detail.facets, 'coefficients')!;
    const estimates = groups[0].lines.map(({ estimate }) => estimate!);
    const scale = learnedBy<{ mean: number; sd: number }[]>(model, 'standardise');
    const list = 'age,lwt\n21,110\n34,160\n';
    const { risks } = await score(study, candidate.id, list);
    const shift = Math.log(0.5 / 0.5) - Math.log(share / (1 - share));
    [
      [21, 110],
      [34, 160],
    ].forEach((values, i) => {
      const sum = values.reduce(
        (total, value, j) => total + estimates[j + 1] * ((value - scale[j].mean) / scale[j].sd),
        estimates[0],
      );
      expect(risks[i]).toBeCloseTo(1 / (1 + Math.exp(-(sum - shift))), 10);
    });
    await client.changeDesign(study, { balancing: { way: 'none' } });
    const [, line] = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
    expect(line.outOfDate).toBe(true);
  });

  it('marks a value that the steps have no number for, instead of scoring it in silence', async () => {
    const { study, candidate } = await fitted('No logarithm', {
      predictors: ['age', 'lwt'],
      preparation: [{ step: 'reshape', columns: ['lwt'], how: 'log', lambda: null }],
    });
    const { view } = await score(study, candidate.id, 'age,lwt\n25,0\n25,120\n');
    expect(view.unfamiliarPatients).toBe(1);
    const [, lwt] = view.predictors;
    expect(lwt.unfamiliar).toMatchObject([{ what: 'beyond', rows: 1 }]);
  });

  it('learns in each fold from that fold’s patients, whatever the held-out ones are', async () => {
    const steps: Design['preparation'] = [
      {
        step: 'fill',
        columns: 'all',
        how: 'chained regressions',
        value: '',
        neighbours: 5,
        rounds: 3,
        mark: true,
      },
      { step: 'components', columns: ['age', 'lwt'], keep: { number: 2 } },
    ];
    const predictors = ['age', 'lwt', 'race', 'smoke'];
    const one = await fitted('One', { predictors, preparation: steps }, withGaps);
    const sides = await (
      await fetch(`${product.address}/api/studies/${one.study}/allocation`)
    ).text();
    const heldOut = new Set(
      sides
        .trim()
        .split('\n')
        .slice(1)
        .flatMap((row) => (row.includes('held out') ? [Number(row.split(',')[0])] : [])),
    );
    // Other ages for the held-out mothers; the division is brought in, as their rows are others now.
    const [head, ...rows] = withGaps.split('\n');
    const changed = [
      `id,${head}`,
      ...rows.map((row, i) => {
        const cells = row.split(',');
        if (heldOut.has(i + 1)) cells[names.indexOf('age')] = '99';
        return [`M${i + 1}`, ...cells].join(',');
      }),
    ].join('\n');
    const study = await client.newStudy('Other');
    await client.bringIn(study, changed, 'development', (dictionary) => {
      asPublished(dictionary);
      dictionary[0].role = 'identifier';
    });
    const allocation = sides
      .trim()
      .split('\n')
      .map((row, i) => (i === 0 ? `id,${row}` : `M${i},${row}`))
      .join('\n');
    const upload = await client.upload('sides.csv', allocation);
    const { body } = await client.send<{ id: string }>('POST', `/api/studies/${study}/allocation`, {
      uploadId: upload.body.id,
    });
    await client.changeDesign(study, {
      event: 'yes',
      predictors,
      preparation: steps,
      split: { way: 'as brought in', allocation: body.id, name: 'sides.csv' },
      folds: { way: 'as brought in' },
    });
    await client.send('POST', `/api/studies/${study}/candidates`, {
      family: 'logistic',
      settings: {},
    });
    const [, other] = await client.fitted(study);
    const predictions = (id: string) =>
      client.get<{ risks: string }>(`/api/candidates/${id}/predictions`);
    expect((await predictions(other.id)).risks).toBe((await predictions(one.candidate.id)).risks);
    const preparation = async (id: string) =>
      (await client.get<ModelFile>(`/api/candidates/${id}/model`)).preparation;
    expect(await preparation(other.id)).toEqual(await preparation(one.candidate.id));
  });

  it('goes out of date with its steps, and comes back with an undo, without a fit', async () => {
    const { study, candidate } = await fitted('Undone', {});
    const outOfDate = async () =>
      (await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`)).map(
        (line) => line.outOfDate,
      );
    const step = { step: 'splines', columns: ['age'], knots: 3 } as const;
    await client.changeDesign(study, { preparation: [{ ...step, columns: [...step.columns] }] });
    // The reference looks at no input: nothing of it changes.
    expect(await outOfDate()).toEqual([false, true]);
    await client.send('POST', `/api/studies/${study}/step`, { direction: 'undo' });
    expect(await outOfDate()).toEqual([false, false]);
    const [, same] = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
    expect(same.fittedAt).toBe(candidate.fittedAt);
  });

  it('keeps its division while only predictors and steps change', async () => {
    const { study, design } = await fitted('Same division', {});
    const { body } = await client.changeDesign(study, {
      predictors: ['age', 'lwt'],
      preparation: [{ step: 'leave out patients', share: 0.5 }],
    });
    expect(body.divisionId).toBe(design.divisionId);
    const other = await client.changeDesign(study, { seed: 5 });
    expect(other.body.divisionId).not.toBe(design.divisionId);
  });
});

describe('what a step shows', () => {
  it('is the column and the patient before and after it', async () => {
    const { study } = await fitted('Shown', {
      predictors: ['age', 'lwt'],
      preparation: [{ step: 'clip', columns: ['lwt'], to: 'quantiles', share: 0.1 }],
    });
    const shown = await client.get<StepShown>(
      `/api/studies/${study}/preparation/step?place=0&column=lwt&patient=0`,
    );
    const { counts } = await client.get<DesignState>(`/api/studies/${study}/design`);
    expect(shown.patients).toBe(counts!.development.patients);
    expect(shown.before).toMatchObject({ kind: 'number', gaps: 0 });
    const [after] = shown.after as { from: number; to: number }[];
    const sides = await (await fetch(`${product.address}/api/studies/${study}/allocation`)).text();
    const rows = sides.trim().split('\n').slice(1);
    const weights = lines
      .filter((_, i) => rows[i].includes('development'))
      .map((line) => Number(cell(line, 'lwt')))
      .sort((a, b) => a - b);
    const quantile = (share: number) => {
      const at = (weights.length - 1) * share;
      const low = Math.floor(at);
      return (
        weights[low] + (at - low) * (weights[Math.min(low + 1, weights.length - 1)] - weights[low])
      );
    };
    expect(after.from).toBeCloseTo(quantile(0.1), 10);
    expect(after.to).toBeCloseTo(quantile(0.9), 10);
  });

  it('is of all development patients, or of those outside a fold', async () => {
    const { study } = await fitted(
      'Folds opened',
      {
        predictors: ['age', 'lwt'],
        preparation: [
          {
            step: 'fill',
            columns: ['lwt'],
            how: 'mean',
            value: '',
            neighbours: 5,
            rounds: 5,
            mark: true,
          },
        ],
      },
      withGaps,
    );
    const sides = await (await fetch(`${product.address}/api/studies/${study}/allocation`)).text();
    const [head, ...rows] = sides
      .trim()
      .split('\n')
      .map((row) => row.split(','));
    const [side, fold] = ['side', 'fold'].map((name) => head.indexOf(name));
    const gapped = withGaps.trim().split('\n').slice(1);
    for (const without of [0, 1, 4]) {
      const weights = gapped.flatMap((line, i) =>
        rows[i][side] === 'development' && rows[i][fold] !== String(without)
          ? [cell(line, 'lwt')]
          : [],
      );
      const known = weights.filter((value) => value !== '').map(Number);
      const preparation = await client.get<FittedPreparation>(
        `/api/studies/${study}/preparation?without=${without}`,
      );
      expect(preparation.patients).toBe(weights.length);
      const [filled] = effectsLike(preparation, 'filled');
      expect(filled).toMatchObject({ column: 'lwt', gaps: weights.length - known.length });
      expect(filled.number).toBeCloseTo(known.reduce((sum, one) => sum + one, 0) / known.length, 9);
      const step = await client.get<StepShown>(
        `/api/studies/${study}/preparation/step?place=0&column=lwt&without=${without}`,
      );
      expect(step.patients).toBe(weights.length);
    }
    const { status } = await client.send('GET', `/api/studies/${study}/preparation?without=6`);
    expect(status).toBe(409);
  });

  it('is refused where there is nothing to learn from yet', async () => {
    const study = await client.newStudy('Open');
    await client.bringIn(study, birthWeight, 'development', asPublished);
    const { status, body } = await client.send<Refusal>(
      'GET',
      `/api/studies/${study}/preparation/step?place=0&column=lwt`,
    );
    expect(status).toBe(409);
    expect(body.sentence).toContain('The design is not complete');
  });
});

describe('kept predictors and preparations', () => {
  it('a name that is not kept is refused, and forgetting one marks its candidates', async () => {
    const { study } = await fitted('Names', {
      predictorSets: [{ name: 'two', predictors: ['age', 'lwt'] }],
    });
    const add = (basis: object) =>
      client.send<{ id: string } & Refusal>('POST', `/api/studies/${study}/candidates`, {
        family: 'logistic',
        settings: {},
        basis,
      });
    const refused = await add({ predictors: 'three' });
    expect(refused.status).toBe(409);
    expect(refused.body.sentence).toContain('“three” are not kept');
    const { body } = await add({ predictors: 'two' });
    const of = (all: CandidateLine[]) => all.find(({ id }) => id === body.id)!;
    expect(of(await client.fitted(study)).outOfDate).toBe(false);
    await client.changeDesign(study, { predictorSets: [] });
    const after = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
    expect(of(after).outOfDate).toBe(true);
  });
});
