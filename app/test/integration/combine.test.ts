import { beforeAll, describe, expect, it } from 'vitest';
import type { Combination, UploadReview } from '../../src/contract/uploads.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
});

const spring = 'id,age,sex\nA,40,f\nB,50,m\nC,60,f\n';
const labs = 'patient,crp,sex\nB,10,m\nA,4,f\nB,20,m\nD,1,m\n';

async function both(first: string, second: string) {
  const [one, two] = [
    await client.upload('spring.csv', first),
    await client.upload('labs.csv', second),
  ];
  return { first: one.body.id, second: two.body.id };
}
const combine = (body: Combination) =>
  client.send<UploadReview & Refusal>('POST', '/api/uploads/combine', body);
const names = ({ columns }: UploadReview) => columns.map(({ tally }) => tally.name);
const join = (several: 'refuse' | 'first' | 'last' | 'mean') => ({
  how: 'join' as const,
  on: 'id',
  onSecond: 'patient',
  several,
});

describe('a second file below the first', () => {
  it('matches columns by name, whatever their order, and says what differs', async () => {
    const files = await both(spring, 'sex;bmi;id\nm;31;D\nf;22;E\n');
    const { body } = await combine({ how: 'append', ...files });
    expect(names(body)).toEqual(['id', 'age', 'sex', 'bmi']);
    expect(body.firstRows).toEqual([
      ['A', '40', 'f', ''],
      ['B', '50', 'm', ''],
      ['C', '60', 'f', ''],
      ['D', '', 'm', '31'],
      ['E', '', 'f', '22'],
    ]);
    expect(body.fileName).toBe('spring.csv + labs.csv');
    expect(body.remarks[0].sentence).toBe(
      '3 rows and 2 rows. age only in spring.csv; bmi only in labs.csv: not known for the others.',
    );
  });

  it('is refused when nothing is in common', async () => {
    const { status, body } = await combine({
      how: 'append',
      ...(await both(spring, 'x,y\n1,2\n')),
    });
    expect([status, body.code]).toEqual([422, 'nothing-in-common']);
  });
});

describe('a second file beside the first', () => {
  const crp = async (several: 'first' | 'last' | 'mean') => {
    const { body } = await combine({ ...join(several), ...(await both(spring, labs)) });
    return { body, values: body.firstRows.map((row) => row[3]) };
  };

  it.each([
    ['first', ['4', '10', '']],
    ['last', ['4', '20', '']],
    ['mean', ['4', '15', '']],
  ] as const)('takes the %s of several rows', async (several, expected) => {
    const { body, values } = await crp(several);
    expect(values).toEqual(expected);
    // A column that both have keeps its name in the first and is named after the file in the second.
    expect(names(body)).toEqual(['id', 'age', 'sex', 'crp', 'sex (labs)']);
    expect(body.remarks[0].sentence).toBe(
      `2 of 3 rows of spring.csv have a match in labs.csv; 1 patient there is in nobody’s row and left out. Of 1 patient with several rows the ${several} is taken.`,
    );
  });

  it('one to one is refused where a patient stands twice, by name', async () => {
    const { status, body } = await combine({ ...join('refuse'), ...(await both(spring, labs)) });
    expect(status).toBe(422);
    expect(body.sentence).toMatch(/1 patient stands more than once in labs\.csv, such as B/);
  });

  it('one to one joins, and the result becomes a cohort', async () => {
    const files = await both(spring, 'patient,ill\nC,yes\nB,no\nA,yes\n');
    const { body } = await combine({ ...join('refuse'), ...files });
    expect(body.firstRows.map((row) => row[3])).toEqual(['yes', 'no', 'yes']);
    const study = await client.newStudy('Joined');
    const made = await client.send('POST', `/api/studies/${study}/cohorts`, {
      purpose: 'development',
      name: 'Joined',
      uploadId: body.id,
      dictionary: body.columns.map(({ proposal }) => proposal.entry),
    });
    expect(made.status).toBeLessThan(300);
  });

  it('is refused on a column that is not there', async () => {
    const files = await both(spring, labs);
    const { body } = await combine({ ...join('first'), on: 'number', ...files });
    expect(body.sentence).toBe('spring.csv has no column "number".');
  });
});
