import { beforeAll, describe, expect, it } from 'vitest';
import Papa from 'papaparse';
import { facetOf, familyOf, settingsSchema, type Settings } from '@rook-scale/core/families';
import { predictionsOf, type Outcome } from '@rook-scale/core/outcome';
import type { Inputs } from '@rook-scale/core/preparation';
import type { CandidateDetail } from '../../src/contract/candidates.ts';
import type { HeldOutView } from '../../src/contract/looks.ts';
import type { ScreenedRow } from '../../src/contract/screenings.ts';
import { Client } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';
import { first, later, liverStudy } from '../support/liver-study.ts';

let product: LaneProduct;
let client: Client;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
});

async function fit(study: string, family: string, settings: Settings = {}) {
  const { body } = await client.send<{ id: string }>('POST', `/api/studies/${study}/candidates`, {
    family,
    settings,
  });
  const line = (await client.fitted(study)).find(({ id }) => id === body.id)!;
  expect(line.state).toBe('fitted');
  return line;
}

const detailOf = (candidate: string) => client.get<CandidateDetail>(`/api/candidates/${candidate}`);

async function heldOut(study: string, candidate: string): Promise<HeldOutView> {
  const { body } = await client.send<HeldOutView>('POST', `/api/studies/${study}/looks`, {
    candidate,
  });
  return body;
}

function floats(base64: string): number[] {
  const bytes = Buffer.from(base64, 'base64');
  return Array.from(new Float64Array(bytes.buffer, bytes.byteOffset, bytes.length / 8));
}

const numbers = ['age', 'bili', 'chol', 'albumin', 'protime'];

/** The patients of the file as a family gets them, with no product between. */
function inputsOf(rows: Record<string, string>[], without: string): Inputs {
  const names = [
    ...numbers.slice(0, 1),
    'sex',
    ...numbers.slice(1),
    'edema',
    'stage',
    'dead4y',
  ].filter((name) => name !== without);
  const levels = names.map((name) =>
    numbers.includes(name) ? undefined : [...new Set(first.map((row) => row[name]))].toSorted(),
  );
  return {
    rowCount: rows.length,
    names,
    levels,
    columns: names.map((name, j) =>
      Float64Array.from(rows, (row) =>
        row[name] === '' ? NaN : levels[j] ? levels[j].indexOf(row[name]) : Number(row[name]),
      ),
    ),
  };
}

describe('boosted trees', () => {
  const settings = { until: 'all', trees: 40, depth: 2 };

  it('give held-out patients what the family gives without the product around it', async () => {
    const family = familyOf('boosted-trees');
    const levels = ['stage 1', 'stage 2', 'stage 3', 'stage 4'];
    const learned = first.slice(0, 200);
    const outcomes: ['dead4y' | 'stage' | 'albumin', Outcome][] = [
      [
        'dead4y',
        { kind: 'event', values: Int8Array.from(learned, ({ dead4y }) => Number(dead4y)) },
      ],
      [
        'stage',
        {
          kind: 'levels',
          levels,
          ordered: false,
          values: Int32Array.from(learned, ({ stage }) => levels.indexOf(stage)),
        },
      ],
      [
        'albumin',
        { kind: 'number', values: Float64Array.from(learned, ({ albumin }) => Number(albumin)) },
      ],
    ];
    for (const [column, outcome] of outcomes) {
      const study = await liverStudy(client, `Boosted, ${column}`, column);
      const line = await fit(study, 'boosted-trees', settings);
      const { predictions } = await heldOut(study, line.id);
      const { fitted } = family.fit(
        inputsOf(learned, column),
        outcome,
        settingsSchema(family.description.settings).parse(settings),
        { seed: 1 },
      );
      const expected = fitted.predict(inputsOf(first.slice(200), column));
      const [found, wanted] =
        outcome.kind === 'event'
          ? [predictions.risks, predictionsOf(expected, 'event').risks]
          : outcome.kind === 'levels'
            ? [predictions.whole!.values, predictionsOf(expected, 'levels').shares]
            : [predictions.whole!.values, predictionsOf(expected, 'number').values];
      const all = floats(found);
      expect(all.length).toBe(wanted.length);
      all.forEach((value, i) => {
        expect(value).toBeCloseTo(wanted[i], 10);
      });
    }
  });

  it('end where a watched fifth is best, and show loss and importance', async () => {
    const study = await liverStudy(client, 'Watched', 'dead4y');
    const line = await fit(study, 'boosted-trees', { trees: 200, depth: 1 });
    const { facets } = await detailOf(line.id);
    const { chosen, lines, at } = facetOf(facets, 'curve')!;
    const [learned, watched] = lines.map(({ values }) => values);
    expect(lines.map(({ whose }) => whose)).toEqual(['learned from', 'inner fold']);
    expect(at[watched.indexOf(Math.min(...watched))]).toBe(chosen);
    expect(chosen).toBeLessThan(200);
    expect(learned.at(-1)!).toBeLessThan(learned[0]);
    const { inputs, patients } = facetOf(facets, 'importance')!;
    // A fifth of each level of the outcome.
    expect(patients).toBeGreaterThanOrEqual(39);
    expect(patients).toBeLessThanOrEqual(41);
    expect(inputs).toHaveLength(8);
    expect(inputs[0].input).toBe('bili');
    expect(inputs.reduce((sum, { gained }) => sum + gained, 0)).toBeCloseTo(1, 9);
  });

  it('keep to a direction in a later list, and say where one cannot be kept', async () => {
    const study = await liverStudy(client, 'Directions', 'dead4y');
    const free = await fit(study, 'boosted-trees', { ...settings, depth: 4 });
    const kept = await fit(study, 'boosted-trees', {
      ...settings,
      depth: 4,
      rising: ['age'],
      falling: ['albumin', 'sex'],
    });
    expect(kept.warnings).toEqual([
      {
        code: 'direction not kept',
        sentence:
          'No direction is kept for sex: not a number among the predictors as they are prepared.',
      },
    ]);
    // One patient at every age of the study.
    const list = Array.from({ length: 45 }, (_, i) => ({
      ...later[0],
      id: `A${i}`,
      age: String(30 + i),
    }));
    const { body: cohort } = await client.bringIn(study, Papa.unparse(list), 'screening', (own) => {
      own[0].role = 'identifier';
      for (const entry of own) if (entry.name === 'edema') entry.kind = 'category';
    });
    const steps = async (candidate: string) => {
      const { body, status } = await client.send<{ id: string }>(
        'POST',
        `/api/studies/${study}/screenings`,
        { cohort: cohort.id, candidate, accept: true, unchecked: true },
      );
      expect(status).toBe(200);
      const { rows } = await client.get<{ rows: ScreenedRow[] }>(
        `/api/screenings/${body.id}/rows?from=0&count=500`,
      );
      const risks = rows.toSorted((a, b) => a.row - b.row).map(({ risk }) => risk!);
      return risks.slice(1).map((risk, i) => risk - risks[i]);
    };
    expect(Math.min(...(await steps(kept.id)))).toBeGreaterThanOrEqual(0);
    expect(Math.min(...(await steps(free.id)))).toBeLessThan(0);
  });
});

describe('a random forest', () => {
  it.each([
    ['dead4y', 'Brier score'],
    ['stage', 'Brier score'],
    ['albumin', 'mean squared error'],
  ] as const)(
    'is fitted to %s, shows its %s out of bag, and beats what all have',
    async (column, loss) => {
      const study = await liverStudy(client, `Forest, ${column}`, column);
      const line = await fit(study, 'random-forest', { trees: 120 });
      const { facets } = await detailOf(line.id);
      const curve = facetOf(facets, 'curve')!;
      expect(curve).toMatchObject({ loss, chosen: 120, lines: [{ whose: 'out of bag' }] });
      expect(curve.lines[0].values.at(-1)!).toBeLessThan(curve.plain!);
      expect(facetOf(facets, 'importance')!.inputs).toHaveLength(8);
      // What it knows of its own patients says nothing of others.
      expect(line.apparentArea).toBeNull();
      const again = await fit(study, 'random-forest', { trees: 120 });
      const [one, other] = [await heldOut(study, line.id), await heldOut(study, again.id)];
      expect(other.predictions).toEqual(one.predictions);
    },
  );

  it('is out of date when the costs that count in its splits change, and only then', async () => {
    const study = await liverStudy(client, 'Forest and costs', 'dead4y');
    const plain = await fit(study, 'random-forest', { trees: 20 });
    const costly = await fit(study, 'random-forest', { trees: 20, costsInSplits: true });
    await client.changeDesign(study, { missedCost: 60 });
    const lines = await client.fitted(study);
    const isOld = ({ id }: { id: string }) => lines.find((line) => line.id === id)!.outOfDate;
    expect([isOld(plain), isOld(costly)]).toEqual([false, true]);
  });
});
