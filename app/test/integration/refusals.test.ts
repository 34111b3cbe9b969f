import { beforeAll, describe, expect, it } from 'vitest';
import { facetOf } from '@rook-scale/core/families';
import type { CandidateDetail } from '../../src/contract/candidates.ts';
import { asPublished, birthWeight } from '../support/birth-weight.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
});

describe('files that are no table of patients', () => {
  it.each<[string, string | Uint8Array, RegExp]>([
    ['an empty file', '', /The file is empty/],
    ['only white space', ' \n\n', /The file is empty/],
    ['only a header', 'age,sex\n', /has a header but no rows/],
    ['a PDF named CSV', '%PDF-1.7\n%âãÏÓ\n1 0 obj', /not delimited text, whatever its name says/],
    ['a ZIP named CSV', new Uint8Array([0x50, 0x4b, 3, 4, 0, 0]), /packed like a workbook/],
    [
      'one line of two million characters',
      'a'.repeat(2_000_000),
      /a line of over a million characters/,
    ],
    [
      '5,000 columns',
      `${Array.from({ length: 5000 }, (_, i) => `c${i}`).join(',')}\n1\n`,
      /has 5000 columns/,
    ],
  ])('%s is refused with a sentence, and nothing is stored', async (_name, content, sentence) => {
    const { status, body } = await client.upload<Refusal>('patients.csv', content);
    expect(status).toBe(422);
    expect(body.sentence).toMatch(sentence);
  });

  it('is refused with its sentence also while most of the file is still to come', async () => {
    const { status, body } = await client.upload<Refusal>(
      'big.pdf',
      `%PDF-${'x'.repeat(60_000_000)}`,
    );
    expect([status, body.code]).toEqual([422, 'not-text']);
  });

  it('reads uneven rows and says so', async () => {
    const { body } = await client.upload('uneven.csv', 'id,age\n1,50\n2\n3,60,extra\n');
    expect(body.rowCount).toBe(3);
    expect(body.remarks.map(({ sentence }) => sentence)).toEqual([
      expect.stringMatching(/^2 rows have more or fewer cells.*line 3, 4/),
    ]);
    expect(body.columns[1].tally).toMatchObject({ rows: 3, empty: 1 });
  });

  it('names columns without a name or with one used twice', async () => {
    const { body } = await client.upload('names.csv', 'age,,age\n1,2,3\n');
    expect(body.columns.map(({ tally }) => tally.name)).toEqual(['age', 'column 2', 'age (2)']);
  });

  it('reads quotes, line breaks within them, a mark at the start and semicolons', async () => {
    const { body } = await client.upload('quoted.csv', '\ufeffname;age\r\n"Roe; ""J""\nx";50\r\n');
    expect(body.columns.map(({ tally }) => tally.name)).toEqual(['name', 'age']);
    expect(body.firstRows).toEqual([['Roe; "J"\nx', '50']]);
  });
});

describe('requests of another origin', () => {
  it.each(['POST', 'PUT', 'PATCH', 'DELETE'])('%s is refused', async (method) => {
    const response = await fetch(`${product.address}/api/studies`, {
      method,
      headers: { Origin: 'http://elsewhere.example', 'Content-Type': 'text/plain' },
      body: '{"name":"x"}',
    });
    expect(response.status).toBe(403);
    expect(((await response.json()) as Refusal).code).toBe('other-origin');
  });
});

describe('requests that make no sense', () => {
  it('are answered with a sentence and no stack', async () => {
    const answers = await Promise.all([
      client.send<Refusal>('POST', '/api/studies', { name: '  ' }),
      client.send<Refusal>('POST', '/api/studies', 'not an object'),
      client.send<Refusal>('GET', '/api/studies/not-an-id'),
      client.send<Refusal>('GET', '/api/cohorts/00000000-0000-4000-8000-000000000000'),
    ]);
    expect(answers.map(({ status }) => status)).toEqual([400, 400, 404, 404]);
    for (const { body } of answers) {
      expect(body.sentence).toMatch(/^[A-Z].*\.$|expected/);
      expect(JSON.stringify(body)).not.toMatch(/\bat .*\.js/);
    }
  });

  it('cannot put a held-out result out without a look', async () => {
    const study = await client.newStudy('No look');
    const refused = await client.send<Refusal>('POST', `/api/studies/${study}/looks`, {
      candidate: '00000000-0000-4000-8000-000000000000',
    });
    expect(refused.status).toBe(404);
  });
});

describe('designs and lists that cannot work', () => {
  it('say which levels are missing when every patient has the same outcome', async () => {
    const study = await client.newStudy('One level');
    const text = `patient_id,age,died\n${Array.from({ length: 60 }, (_, i) => `${i},${40 + i},no`).join('\n')}\n`;
    await client.bringIn(study, text, 'development', (dictionary) => {
      dictionary[2].kind = 'yes/no';
      dictionary[2].role = 'outcome';
    });
    const { body } = await client.changeDesign(study, { event: 'yes' });
    expect(body.obstacle).toBe(
      'Every patient with a known outcome lacks the event "yes": there is nothing to tell apart.',
    );
  });

  it('refuse two outcomes and two identifiers before anything is stored', async () => {
    const study = await client.newStudy('Two outcomes');
    const refused = await client.bringIn(study, birthWeight, 'development', (dictionary) => {
      for (const entry of dictionary) if (entry.kind === 'yes/no') entry.role = 'outcome';
    });
    expect(refused.status).toBe(422);
    expect((refused.body as unknown as Refusal).sentence).toMatch(
      /A study has one outcome, but low and smoke/,
    );
    expect(await client.get(`/api/studies/${study}`)).toMatchObject({ cohort: null });
  });

  it('refuse a list without any of the model’s columns', async () => {
    const study = await client.newStudy('Nothing in common');
    await client.bringIn(study, birthWeight, 'development', asPublished);
    await client.changeDesign(study, { event: 'yes' });
    await client.send('POST', `/api/studies/${study}/candidates`, {
      family: 'logistic',
      settings: {},
    });
    const [, logistic] = await client.fitted(study);
    const list = await client.bringIn(study, 'ward,bed\nA,1\nB,2\n', 'screening');
    const refused = await client.send<Refusal>('POST', `/api/studies/${study}/screenings`, {
      cohort: list.body.id,
      candidate: logistic.id,
    });
    expect(refused.status).toBe(422);
    expect(refused.body.sentence).toMatch(/has none of the model's 8 predictors/);
  });
});

describe('outcomes and predictors at their limits', () => {
  const patients = (row: (i: number) => string) =>
    `patient_id,age,form,died\n${Array.from({ length: 120 }, (_, i) => `${i},${row(i)}`).join('\n')}\n`;

  async function fitted(name: string, text: string) {
    const study = await client.newStudy(name);
    await client.bringIn(study, text, 'development', (dictionary) => {
      dictionary[3].role = 'outcome';
    });
    await client.changeDesign(study, { event: 'yes' });
    await client.send('POST', `/api/studies/${study}/candidates`, {
      family: 'logistic',
      settings: {},
    });
    const [, line] = await client.fitted(study);
    return { line, detail: await client.get<CandidateDetail>(`/api/candidates/${line.id}`) };
  }

  it('predictors that never vary are fitted to the share of events, and it is said', async () => {
    const { line, detail } = await fitted(
      'Constant',
      patients((i) => `50,B,${i % 4 ? 'no' : 'yes'}`),
    );
    expect(line.state).toBe('fitted');
    expect(line.results!.area!.mean).toBe(0.5);
    expect(detail.warnings.map(({ sentence }) => sentence).join(' ')).toMatch(
      /No predictor varies|Left out because it repeats/,
    );
  });

  it('a perfectly separated outcome is fitted, named, and nowhere becomes NaN', async () => {
    const { line, detail } = await fitted(
      'Separated',
      patients((i) => `${i < 40 ? 20 + i : 70 + (i % 20)},${'AB'[i % 2]},${i < 40 ? 'yes' : 'no'}`),
    );
    expect(line.results!.area!.mean).toBe(1);
    expect(detail.warnings.map(({ code }) => code)).toContain('separation');
    expect(JSON.stringify([line, detail])).not.toMatch(/NaN|Infinity/);
    for (const row of facetOf(detail.facets, 'coefficients')!.groups[0].lines)
      expect(Object.values(row)).not.toContain(null);
  });
});
