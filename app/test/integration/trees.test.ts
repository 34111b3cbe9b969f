import { beforeAll, describe, expect, it } from 'vitest';
import Papa from 'papaparse';
import { facetOf, type ShownNode, type TreeShown } from '@rook-scale/core/families';
import type { CandidateDetail, CandidateLine } from '../../src/contract/candidates.ts';
import type { HeldOutView } from '../../src/contract/looks.ts';
import type { ScreenedRow, ScreeningView } from '../../src/contract/screenings.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';
import { first, later, liverStudy } from '../support/liver-study.ts';

let product: LaneProduct;
let client: Client;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
});

const newStudy = (name: string, outcome: 'dead4y' | 'stage' | 'albumin') =>
  liverStudy(client, name, outcome);

async function fit(study: string, settings: object = {}) {
  const { body } = await client.send<{ id: string }>('POST', `/api/studies/${study}/candidates`, {
    family: 'decision-tree',
    settings,
  });
  return lineOf(study, body.id);
}

const lineOf = async (study: string, candidate: string): Promise<CandidateLine> =>
  (await client.fitted(study)).find(({ id }) => id === candidate)!;

const shownOf = async (candidate: string): Promise<TreeShown> =>
  facetOf((await client.get<CandidateDetail>(`/api/candidates/${candidate}`)).facets, 'tree')!;

/** Where a patient of the file ends, question by question. */
function leafOf({ nodes, chosen }: TreeShown, row: Record<string, string>): ShownNode {
  let node = nodes[0];
  while (node.left !== undefined && node.from! > chosen) {
    const cell = row[node.input!];
    const isLeft =
      cell === ''
        ? node.gapsLeft
        : node.levels
          ? node.levels.includes(cell)
          : node.below === undefined || Number(cell) < node.below;
    node = nodes[isLeft ? node.left : node.right!];
  }
  return node;
}

/** Risk by hand: the share of a leaf, drawn to that of all. */
function riskOf(tree: TreeShown, row: Record<string, string>): number {
  const leaf = leafOf(tree, row);
  const share = tree.nodes[0].counts![1] / tree.nodes[0].patients;
  return (leaf.counts![1] + tree.drawn * share) / (leaf.patients + tree.drawn);
}

function floats(base64: string): number[] {
  const bytes = Buffer.from(base64, 'base64');
  return Array.from(new Float64Array(bytes.buffer, bytes.byteOffset, bytes.length / 8));
}

describe('a decision tree', () => {
  it('gives held-out patients the risks that its drawing gives them by hand, gaps as they are', async () => {
    const study = await newStudy('Held out', 'dead4y');
    const line = await fit(study);
    expect(line).toMatchObject({ state: 'fitted', outOfDate: false });
    const tree = await shownOf(line.id);
    expect(tree.nodes[0]).toMatchObject({
      patients: 200,
      counts: ['0', '1'].map(
        (level) => first.slice(0, 200).filter((row) => row.dead4y === level).length,
      ),
    });
    expect(tree.loss).toBe('error cost');
    const { body } = await client.send<HeldOutView>('POST', `/api/studies/${study}/looks`, {
      candidate: line.id,
    });
    const risks = floats(body.predictions.risks);
    expect(risks).toHaveLength(60);
    first.slice(200).forEach((row, i) => {
      expect(risks[i]).toBeCloseTo(riskOf(tree, row), 14);
    });
  });

  it('is out of date when the costs that it was compared by change, and only then', async () => {
    const study = await newStudy('Costs', 'dead4y');
    const byCosts = await fit(study, { size: 'all' });
    const byRisks = await fit(study, { prunedBy: 'Brier score' });
    const inSplits = await fit(study, { prunedBy: 'Brier score', costsInSplits: true });
    const isOld = async (line: CandidateLine) => (await lineOf(study, line.id)).outOfDate;
    await client.changeDesign(study, { missedCost: 30, falseAlarmCost: 10 });
    for (const line of [byCosts, byRisks, inSplits]) expect(await isOld(line)).toBe(false);
    await client.changeDesign(study, { missedCost: 60 });
    expect(await isOld(byRisks)).toBe(false);
    expect(await isOld(byCosts)).toBe(true);
    expect(await isOld(inSplits)).toBe(true);
    await client.send('POST', `/api/studies/${study}/step`, { direction: 'undo' });
    expect(await isOld(byCosts)).toBe(false);
  });

  it('scores a later list by hand; a gap that nobody had is said, one it never asks about is not', async () => {
    const study = await newStudy('List', 'dead4y');
    const line = await fit(study, { size: 'leaves', leaves: 6 });
    const tree = await shownOf(line.id);
    const asked = new Set(
      tree.nodes.flatMap(({ input, from }) => (input && from! > tree.chosen ? [input] : [])),
    );
    expect(asked.size).toBeGreaterThan(1);
    const isFull = (name: string) => first.slice(0, 200).every((row) => row[name] !== '');
    const seen = [...asked].find(isFull)!;
    const unseen = ['age', 'sex', 'edema', 'albumin', 'protime', 'stage'].find(
      (name) => !asked.has(name),
    )!;
    const score = async (list: Record<string, string>[], accept = false) => {
      const { body } = await client.bringIn(
        study,
        Papa.unparse(list),
        'screening',
        (dictionary) => {
          dictionary[0].role = 'identifier';
          for (const entry of dictionary) if (entry.name === 'edema') entry.kind = 'category';
        },
      );
      return client.send<{ id: string } & Refusal>('POST', `/api/studies/${study}/screenings`, {
        cohort: body.id,
        candidate: line.id,
        accept,
        unchecked: true,
      });
    };
    const lacks = (name: string) => later.map((row, i) => (i === 3 ? { ...row, [name]: '' } : row));
    const refused = await score(lacks(seen));
    expect(refused.status).toBe(409);
    expect(refused.body.code).toBe('rests-on-too-little');
    expect(refused.body.sentence).toContain('not known (1)');

    const list = lacks(unseen);
    const { body } = await score(list);
    const { rows: scored } = await client.get<{ rows: ScreenedRow[] }>(
      `/api/screenings/${body.id}/rows?from=0&count=500`,
    );
    expect(scored).toHaveLength(list.length);
    for (const { row, risk } of scored) expect(risk).toBeCloseTo(riskOf(tree, list[row]), 14);
    // What is done about gaps is said, of those that change anything.
    const { predictors } = await client.get<ScreeningView>(`/api/screenings/${body.id}`);
    const said = (name: string) => predictors.find((one) => one.name === name)!.treatment;
    expect(said(unseen)).toBe('not used by the model');
    for (const name of asked)
      if (list.some((row) => row[name] === '')) expect(said(name)).toContain('go the way of');
  });

  it('is fitted to several levels and to a number, and each patient gets what the leaf has', async () => {
    const levels = await newStudy('Levels', 'stage');
    const byLevels = await fit(levels, { size: 'leaves', leaves: 5 });
    const shown = await shownOf(byLevels.id);
    expect(shown.levels).toEqual(['stage 1', 'stage 2', 'stage 3', 'stage 4']);
    const { body: look } = await client.send<HeldOutView>('POST', `/api/studies/${levels}/looks`, {
      candidate: byLevels.id,
    });
    const shares = floats(look.predictions.whole!.values);
    const [whole] = shown.nodes;
    first.slice(200).forEach((row, i) => {
      const leaf = leafOf(shown, row);
      const own = leaf.counts!.map(
        (count, k) => (count + whole.counts![k] / whole.patients) / (leaf.patients + 1),
      );
      own.forEach((share, k) => expect(shares[4 * i + k]).toBeCloseTo(share, 14));
    });

    const number = await newStudy('Number', 'albumin');
    const byNumber = await fit(number, { size: 'leaves', leaves: 5 });
    const means = await shownOf(byNumber.id);
    expect(means.loss).toBe('squared error');
    const { body: found } = await client.send<HeldOutView>('POST', `/api/studies/${number}/looks`, {
      candidate: byNumber.id,
    });
    const values = floats(found.predictions.whole!.values);
    first.slice(200).forEach((row, i) => {
      expect(values[i]).toBeCloseTo(leafOf(means, row).mean!, 12);
    });
  });
});
