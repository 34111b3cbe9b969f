import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { divide } from '@rook-scale/core/design';
import { tableFromText } from '@rook-scale/core/table';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { DesignState } from '../../src/contract/designs.ts';
import type { PackedColumns, SurveyView } from '../../src/contract/surveys.ts';
import { Client } from '../support/client.ts';
import { freshProduct, type FreshProduct } from '../support/fresh-product.ts';

/** Beyond what the web server divides itself, and beyond what the survey counts at once. */
const patients = 80_400;
const labs = 20;

let product: FreshProduct;
let client: Client;
let study: string;
const header = [
  'reference',
  ...Array.from({ length: labs }, (_, j) => `lab_${j + 1}`),
  'rare',
  'died',
];
const rows: string[][] = Array.from({ length: patients }, (_, i) => [
  `P${i}`,
  ...Array.from({ length: labs }, (_lab, j) =>
    (i + j) % 23 === 0 ? '' : String(((i * 7919 + j * 104_729) % 1000) / 10),
  ),
  i < 3 ? 'yes' : 'no',
  i % 9 === 0 ? 'yes' : 'no',
]);
const file = [header, ...rows].map((cells) => cells.join(',')).join('\n');

beforeAll(async () => {
  product = await freshProduct({ demo: false });
  client = new Client(product.address);
});
afterAll(() => product.stop());

async function bringIn(name: string, between: () => Promise<void>): Promise<string> {
  const made = await client.newStudy(name);
  const { body } = await client.upload('large.csv', file);
  await between();
  const dictionary = body.columns.map(({ proposal }) => proposal.entry);
  dictionary.find((entry) => entry.name === 'died')!.role = 'outcome';
  const { status } = await client.send('POST', `/api/studies/${made}/cohorts`, {
    purpose: 'development',
    name: 'Large',
    uploadId: body.id,
    dictionary,
  });
  expect(status).toBe(200);
  return made;
}

/** The web server ends and is started again: what it had in memory is gone. */
async function restartWeb(): Promise<void> {
  process.kill(product.web.pid, 'SIGKILL');
  for (let tries = 0; tries < 200; tries++) {
    await new Promise((resolve) => setTimeout(resolve, 100));
    const answer = await fetch(`${product.address}/api/health`).catch(() => undefined);
    if (answer?.ok) return;
  }
  throw new Error('The web server did not come back.');
}

describe(`${patients} patients`, () => {
  it('are the same cohort whether the file was at hand or had to be read again', async () => {
    study = await bringIn('At hand', () => Promise.resolve());
    const again = await bringIn('Read again', restartWeb);
    const [first, second] = await Promise.all(
      [study, again].map((one) => client.get<CohortInfo>(`/api/studies/${one}/development`)),
    );
    expect(first.rowCount).toBe(patients);
    expect(second.dictionary).toEqual(first.dictionary);
    expect(second.summaries).toEqual(first.summaries);
    const middle = `rows?from=${patients / 2}&count=3`;
    expect(await client.get(`/api/cohorts/${second.id}/${middle}`)).toEqual(
      await client.get(`/api/cohorts/${first.id}/${middle}`),
    );
  });

  it('are divided on a thread as the design says, to the last patient', async () => {
    const { body } = await client.changeDesign(study, { event: 'yes' });
    expect(body.counts!.heldOut.patients).toBe(patients / 4);
    const { dictionary } = await client.get<CohortInfo>(`/api/studies/${study}/development`);
    const table = tableFromText(header, rows, dictionary);
    const expected = divide(table, body.choices);
    expect(body.counts).toEqual(expected.counts);
    const { rows: packed } = await client.get<PackedColumns>(
      `/api/studies/${study}/survey/columns?name=died&rows=yes`,
    );
    const used = new Int32Array(Uint8Array.from(Buffer.from(packed!, 'base64')).buffer);
    expect(used).toEqual(expected.developmentRows);
  });

  it('say on the thread too why they cannot be divided', async () => {
    const { body } = await client.changeDesign(study, { outcome: 'rare', event: 'yes' });
    expect(body.obstacle).toMatch(/^Too few patients to divide/);
    await client.send('POST', `/api/studies/${study}/step`, { direction: 'undo' });
  });

  it('have their pairs drawn from a sample until all are counted', async () => {
    const seen: SurveyView<'associations'>[] = [];
    for (let tries = 0; tries < 6000 && !seen.at(-1)?.current; tries++) {
      seen.push(await client.ask(`/api/studies/${study}/survey?part=associations&ranked=yes`));
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
    const sample = seen.find(({ sampled }) => sampled !== null);
    expect(sample).toMatchObject({ sampled: 20_000, current: false });
    const design = await client.get<DesignState>(`/api/studies/${study}/design`);
    const last = seen.at(-1)!;
    expect(last).toMatchObject({ sampled: null, current: true, problem: null });
    const place = (view: typeof last, name: string) => view.result!.map.names.indexOf(name);
    const pair = (view: typeof last) =>
      view.result!.map.cells[place(view, 'lab_2')][place(view, 'lab_1')]!;
    expect(pair(sample!).patients).toBeLessThanOrEqual(20_000);
    const known = design.counts!.development.patients;
    expect(pair(last).patients).toBeGreaterThan(0.9 * known);
    expect(Math.abs(pair(last).value - pair(sample!).value)).toBeLessThan(0.05);
  });
});
