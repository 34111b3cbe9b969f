import Papa from 'papaparse';
import { beforeAll, expect, it } from 'vitest';
import { learnSurroundings, unlikeThen } from '@rook-scale/core/model';
import { quantile } from '@rook-scale/core/numeric';
import type { PredictorColumn } from '@rook-scale/core/preparation';
import type { CandidateDetail } from '../../src/contract/candidates.ts';
import type { ScreenedRow, ScreeningView } from '../../src/contract/screenings.ts';
import { Client } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';
import { first, later, liverStudy } from '../support/liver-study.ts';

let product: LaneProduct;
let client: Client;
let study: string;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
  study = await liverStudy(client, 'Unusual', 'dead4y');
});

const levelled = ['sex', 'edema', 'stage'];
const names = ['age', 'sex', 'bili', 'chol', 'albumin', 'protime', 'edema', 'stage'];

/** The patients of the file as columns, with no product between. */
const columnsOf = (rows: Record<string, string>[]): PredictorColumn[] =>
  names.map((name): PredictorColumn => {
    const cells = rows.map((row) => row[name]);
    if (!levelled.includes(name))
      return {
        name,
        type: 'number',
        values: Float64Array.from(cells, (cell) => (cell === '' ? NaN : Number(cell))),
      };
    const levels = [...new Set(first.map((row) => row[name]))].toSorted();
    return {
      name,
      type: 'coded',
      levels,
      codes: Int32Array.from(cells, (cell) => levels.indexOf(cell)),
    };
  });

const list = later.map((row, i) =>
  i === 7 ? { ...row, bili: '27', albumin: '2', chol: '1700', protime: '17' } : row,
);

async function fit(family: string, settings = {}) {
  const { body } = await client.send<{ id: string }>('POST', `/api/studies/${study}/candidates`, {
    family,
    settings,
  });
  const line = (await client.fitted(study)).find(({ id }) => id === body.id)!;
  expect(line.problem).toBeNull();
  return line;
}

it('marks in a list and its file who is unlike the development patients, counted by hand', async () => {
  const { id: candidate } = await fit('logistic');
  const brought = await client.bringIn(study, Papa.unparse(list), 'screening', (dictionary) => {
    for (const entry of dictionary) if (entry.name === 'edema') entry.kind = 'category';
  });
  const cohort = brought.body.id;
  const { body, status } = await client.send<{ id: string }>(
    'POST',
    `/api/studies/${study}/screenings`,
    { cohort, candidate, accept: true, unchecked: true },
  );
  expect(status).toBe(200);
  const development = columnsOf(first);
  const rows = Int32Array.from({ length: 200 }, (_, i) => i);
  const learned = learnSurroundings(development, rows)!;
  const then = unlikeThen(learned, development, first.length).slice(0, 200);
  const from = quantile(then.toSorted(), 0.99);
  const now = unlikeThen(learned, columnsOf(list), list.length);

  const view = await client.get<ScreeningView>(`/api/screenings/${body.id}`);
  expect(view.predictors.filter(({ absent }) => absent)).toEqual([]);
  expect(view.unusual).toEqual({ patients: now.filter((score) => score > from).length, from });
  const { rows: shown } = await client.get<{ rows: ScreenedRow[] }>(
    `/api/screenings/${body.id}/rows?from=0&count=500`,
  );
  expect(shown).toHaveLength(list.length);
  for (const { row, unusual } of shown) expect(unusual).toBe(now[row]);
  expect(now[7]).toBeGreaterThan(from);

  const file = await (await fetch(`${product.address}/api/screenings/${body.id}/file`)).text();
  const { data } = Papa.parse<Record<string, string>>(file, { header: true, skipEmptyLines: true });
  for (const line of data) {
    const place = list.findIndex(({ id }) => id === line.patient);
    expect(line.unusualness).toBe(now[place].toFixed(4));
    expect(line.unusual).toBe(now[place] > from ? 'yes' : 'no');
  }
  expect(data).toHaveLength(list.length);
});

it('learns it as an input inside each part of a fit, for families with and without gaps', async () => {
  await client.changeDesign(study, { preparation: [{ step: 'unusualness', columns: 'all' }] });
  for (const family of ['logistic', 'decision-tree']) {
    const { id } = await fit(family);
    const { inputs } = await client.get<CandidateDetail>(`/api/candidates/${id}`);
    const made = inputs.find(({ name }) => name === 'unusualness');
    expect(made).toMatchObject({ kind: 'made', columns: names });
  }
});
