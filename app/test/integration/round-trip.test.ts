import { beforeAll, expect, it } from 'vitest';
import { harmlessCell } from '@rook-scale/core/table';
import type { CandidateLine } from '../../src/contract/candidates.ts';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { Client } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;
let study: string;
let cohort: string;

const starts = ['=', '-', '@', '+', '%', '|', "'", "'=", "''-", '', '1', '"'];
const [header, ...mothers] = birthWeight.trim().split('\n');
const ids = mothers.map((_, i) => `${starts[i % starts.length]}M${i + 1}`);
const named = '=id';
const quoted = (cell: string) => `"${cell.replaceAll('"', '""')}"`;
const text = [
  `${quoted(harmlessCell(named))},${header}`,
  ...mothers.map((row, i) => `${quoted(harmlessCell(ids[i]))},${row}`),
];

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
  study = await client.newStudy('Round trip');
  // As JSON, so that no file that we wrote is read to begin with.
  const names = header.split(',');
  const objects = mothers.map((row, i) => ({
    [named]: ids[i],
    ...Object.fromEntries(row.split(',').map((cell, j) => [names[j], cell])),
  }));
  const upload = await client.upload('mothers.json', JSON.stringify(objects));
  const dictionary = upload.body.columns.map(({ proposal }) => proposal.entry);
  asPublished(dictionary);
  dictionary[0].role = 'identifier';
  dictionary[0].kind = 'text';
  dictionary[0].levels = undefined;
  const made = await client.send<{ id: string }>('POST', `/api/studies/${study}/cohorts`, {
    ...{ purpose: 'development', name: 'Mothers', uploadId: upload.body.id, dictionary },
  });
  cohort = made.body.id;
  await client.changeDesign(study, { event: 'yes' });
  await client.send('POST', `/api/studies/${study}/candidates`, {
    ...{ family: 'logistic', settings: {} },
  });
  await client.fitted(study);
});

const fileOf = async (path: string) =>
  new Uint8Array(await (await fetch(product.address + path)).arrayBuffer());

/** The identifiers of a file that the product wrote, as the product reads them. */
async function readBack(path: string, name: string, column: string): Promise<string[]> {
  const written = await fileOf(path);
  if (!name.endsWith('.xlsx') && !name.endsWith('.parquet'))
    for (const line of new TextDecoder().decode(written).split('\n'))
      expect(line).not.toMatch(/^"?[=@%|+]/);
  const { status, body } = await client.upload(name, written);
  expect(status).toBe(200);
  const place = body.columns.findIndex(({ tally }) => tally.name === column);
  const kept = await client.send<{ id: string }>('POST', `/api/studies/${study}/cohorts`, {
    ...{ purpose: 'screening', name, uploadId: body.id },
    dictionary: body.columns.map(({ proposal: { entry } }, i) =>
      i === place
        ? { ...entry, kind: 'text', role: 'identifier', levels: undefined }
        : { ...entry, role: entry.role === 'identifier' ? 'set aside' : entry.role },
    ),
  });
  expect([kept.status, kept.body]).toEqual([200, expect.anything()]);
  const { rows } = await client.get<{ rows: string[][] }>(
    `/api/cohorts/${kept.body.id}/rows?from=0&count=189`,
  );
  return rows.map((cells) => cells[place]);
}

it.each(['csv', 'xlsx', 'parquet'])(
  'patients written as %s come back with their identifiers',
  async (format) => {
    const path = `/api/cohorts/${cohort}/file?format=${format}`;
    expect(await readBack(path, `patients.${format}`, named)).toEqual(ids);
  },
);

it('the allocation comes back, and puts each patient on the side where it stands', async () => {
  const path = `/api/studies/${study}/allocation`;
  expect(await readBack(path, 'sides.csv', named)).toEqual(ids);
  const counts = async () => (await client.get<DesignState>(`/api/studies/${study}/design`)).counts;
  const before = await counts();
  const upload = await client.upload('allocation.csv', await fileOf(path));
  const { body } = await client.send<{ id: string }>('POST', path, { uploadId: upload.body.id });
  await client.changeDesign(study, {
    split: { way: 'as brought in', allocation: body.id, name: 'allocation.csv' },
  });
  expect(await counts()).toEqual(before);
});

it('a list comes back with its patients, however they were brought in', async () => {
  const [, logistic] = await client.get<CandidateLine[]>(`/api/studies/${study}/candidates`);
  const list = await client.bringIn(study, text.join('\n'), 'screening', (dictionary) => {
    asPublished(dictionary);
    Object.assign(dictionary[0], { role: 'identifier', kind: 'text', levels: undefined });
  });
  const info = await client.get<CohortInfo>(`/api/cohorts/${list.body.id}`);
  expect(info.dictionary[0].name).toBe(named);
  const scored = await client.send<{ id: string }>('POST', `/api/studies/${study}/screenings`, {
    ...{ cohort: list.body.id, candidate: logistic.id, accept: true, unchecked: true },
  });
  const path = `/api/screenings/${scored.body.id}/file`;
  expect((await readBack(path, 'scored.csv', 'patient')).toSorted()).toEqual(ids.toSorted());
});
