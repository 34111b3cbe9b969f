import { beforeAll, describe, expect, it } from 'vitest';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import { Client } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

/** More rows than two chunks of a column hold. */
const count = 70_000;
const rowOf = (i: number) => [
  `P${i}`,
  i % 7 === 0 ? '' : String(i / 4),
  ['red', 'green', 'blue'][i % 3],
  `20${10 + (i % 15)}-0${1 + (i % 9)}-1${i % 10}`,
  i % 11 ? 'no' : 'yes',
];

let product: LaneProduct;
let client: Client;
let cohort: CohortInfo;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
  const study = await client.newStudy('Rows');
  const lines = Array.from({ length: count }, (_, i) => rowOf(i).join(','));
  const text = `patient_id,dose,colour,seen,event\n${lines.join('\n')}\n`;
  const { body } = await client.bringIn(study, text, 'development');
  cohort = await client.get<CohortInfo>(`/api/cohorts/${body.id}`);
});

const page = async (from: number, size: number) =>
  (
    await client.get<{ rows: string[][] }>(
      `/api/cohorts/${cohort.id}/rows?from=${from}&count=${size}`,
    )
  ).rows;

describe('rows of a cohort of several chunks', () => {
  it('is stored whole, column by column', () => {
    expect(cohort.rowCount).toBe(count);
    expect(cohort.dictionary.map(({ kind }) => kind)).toEqual([
      'text',
      'number',
      'category',
      'date',
      'yes/no',
    ]);
    expect(cohort.summaries[1].missing).toBe(10_000);
    expect(cohort.summaries[2].counts).toEqual([23_333, 23_333, 23_334]);
    expect(cohort.summaries[0].different).toBe(count);
  });

  it.each([0, 100, 32_700, 32_767, 32_768, 65_500, 65_536, 69_950])(
    'from %i on are those of the file',
    async (from) => {
      const rows = await page(from, 100);
      const size = Math.min(100, count - from);
      expect(rows).toEqual(Array.from({ length: size }, (_, i) => rowOf(from + i)));
    },
  );

  it('after a mend of one column are still those of the file in the others', async () => {
    await client.mend(cohort.id, (dictionary) => {
      dictionary[2].spellings = { red: 'warm' };
      dictionary[2].levels = dictionary[2].levels!.filter((level) => level !== 'red');
    });
    const rows = await page(32_760, 20);
    expect(rows).toEqual(
      Array.from({ length: 20 }, (_, i) =>
        rowOf(32_760 + i).map((cell) => (cell === 'red' ? 'warm' : cell)),
      ),
    );
  });
});
