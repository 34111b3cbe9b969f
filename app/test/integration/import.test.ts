import { beforeAll, describe, expect, it } from 'vitest';
import type { CohortInfo } from '../../src/contract/cohorts.ts';
import type { UploadReview } from '../../src/contract/uploads.ts';
import { Client, type Refusal } from '../support/client.ts';
import { productOfLane, type LaneProduct } from '../support/lanes.ts';

let product: LaneProduct;
let client: Client;

beforeAll(async () => {
  product = await productOfLane();
  client = new Client(product.address);
});

const text =
  'Größe;Gewicht;Aufnahme;Diabetes\r\n181;78,5;31.01.2025;ja\r\n164;61,2;02.02.2025;nein\r\n';
const names = ['Größe', 'Gewicht', 'Aufnahme', 'Diabetes'];
const utf16 = (mark: boolean) => Buffer.from((mark ? '\ufeff' : '') + text, 'utf16le');

const namesOf = ({ columns }: UploadReview) => columns.map(({ tally }) => tally.name);

describe('encodings', () => {
  it.each<[string, Uint8Array, string]>([
    ['UTF-8', Buffer.from(text), 'utf-8'],
    ['UTF-8 with a mark', Buffer.from('\ufeff' + text), 'utf-8'],
    ['Latin-1', Buffer.from(text, 'latin1'), 'windows-1252'],
    ['UTF-16 with a mark', utf16(true), 'utf-16le'],
    ['UTF-16 without one', utf16(false), 'utf-16le'],
    ['UTF-16, big-endian', utf16(true).swap16(), 'utf-16be'],
  ])('%s is seen and read', async (_name, bytes, encoding) => {
    const { body } = await client.upload('kohorte.csv', bytes);
    expect(body.reading).toEqual({ delimiter: ';', encoding, leaveOutLast: 0 });
    expect(namesOf(body)).toEqual(names);
    expect(body.firstRows[0]).toEqual(['181', '78,5', '31.01.2025', 'ja']);
    const { entry } = body.columns[1].proposal;
    expect([entry.kind, entry.format]).toEqual(['number', 'decimal comma']);
    expect(body.columns[2].proposal.entry.format).toBe('day first');
    expect(body.columns[3].proposal.entry.kind).toBe('yes/no');
  });

  it('a letter beyond ASCII late in the file, and cut by a piece of the upload, is read', async () => {
    const rows = Array.from({ length: 40_000 }, (_, i) => `${i},ward`).join('\n');
    for (const encoding of ['utf8', 'latin1'] as const) {
      const bytes = Buffer.from(`id,ward\n${rows}\n99,Köln\n`, encoding);
      const { body } = await client.upload('late.csv', bytes);
      expect(body.remarks).toEqual([]);
      expect(body.columns[1].tally.distinct.map(([cell]) => cell)).toEqual(['ward', 'Köln']);
    }
  });
});

describe('delimiters', () => {
  it.each([',', ';', '\t', '|'] as const)('%j', async (delimiter) => {
    const rows = [
      ['id', 'note', 'age'],
      ['1', 'well, so far; "A|B"\tC', '50'],
      ['2', 'line\nbreak', '61'],
    ];
    const quoted = rows
      .map((row) => row.map((cell) => `"${cell.replaceAll('"', '""')}"`).join(delimiter))
      .join('\r\n');
    const { body } = await client.upload('table.txt', quoted);
    expect(body.reading.delimiter).toBe(delimiter);
    expect(body.firstRows).toEqual(rows.slice(1));
  });

  it('a decimal comma in every cell does not pass for one', async () => {
    const { body } = await client.upload('comma.csv', 'a;b;c\n1,5;2,5;3,5\n4,5;5,5;6,5\n');
    expect(body.reading.delimiter).toBe(';');
  });
});

describe('a wrong guess is put right without a new upload', () => {
  const read = (id: string, reading: UploadReview['reading']) =>
    client.send<UploadReview & Refusal>('PUT', `/api/uploads/${id}/reading`, reading);

  it('other delimiter, other encoding, last rows left out', async () => {
    const { body } = await client.upload('kohorte.csv', Buffer.from(text, 'latin1'));
    const other = await read(body.id, { ...body.reading, delimiter: ',', encoding: 'utf-8' });
    expect(other.status).toBe(200);
    expect(namesOf(other.body)).toEqual(['Gr\ufffd\ufffde;Gewicht;Aufnahme;Diabetes']);
    expect(other.body.remarks.map(({ code }) => code)).toContain('unreadable characters');
    const back = await read(body.id, { ...body.reading, leaveOutLast: 1 });
    expect(namesOf(back.body)).toEqual(names);
    expect(back.body.rowCount).toBe(1);
    expect((await read(body.id, { ...body.reading, leaveOutLast: 2 })).body.sentence).toMatch(
      /header but no rows/,
    );
    expect((await client.get<UploadReview>(`/api/uploads/${body.id}`)).rowCount).toBe(1);
  });

  it('holds for what is stored, and not once a cohort was made of it', async () => {
    const study = await client.newStudy('Totals');
    const patients = Array.from({ length: 30 }, (_, i) => `P${i},${40 + i},${i % 3 ? 0 : 1}`);
    const file = `patient_id,age,died\n${patients.join('\n')}\nTotal,1635,10\n`;
    const { body } = await client.upload('totals.csv', file);
    expect(body.remarks.map(({ code, sentence }) => [code, sentence])).toEqual([
      ['totals', expect.stringMatching(/^Line 32 begins with Total, 1635, 10/)],
    ]);
    const less = await read(body.id, { ...body.reading, leaveOutLast: 1 });
    expect(less.body.remarks).toEqual([]);
    const stored = await client.send<{ id: string }>('POST', `/api/studies/${study}/cohorts`, {
      purpose: 'development',
      name: 'Patients',
      uploadId: body.id,
      dictionary: less.body.columns.map(({ proposal }) => proposal.entry),
    });
    const cohort = await client.get<CohortInfo>(`/api/cohorts/${stored.body.id}`);
    expect(cohort.rowCount).toBe(30);
    expect(cohort.file).toMatchObject({ name: 'totals.csv', size: Buffer.byteLength(file) });
    expect(cohort.file.sha256).toMatch(/^[0-9a-f]{64}$/);
    expect((await read(body.id, body.reading)).status).toBe(409);
  });

  it('a column read another way takes no other column with it', async () => {
    const study = await client.newStudy('Codes');
    const rows = Array.from({ length: 60 }, (_, i) => `${i},${1 + (i % 3)},${i % 5 ? 41 : 0}`);
    const { body } = await client.bringIn(
      study,
      `record_id,race,albumin\n${rows.join('\n')}\n`,
      'development',
    );
    const mended = await client.mend(body.id, (dictionary) => {
      dictionary[1].kind = 'category';
      dictionary[1].spellings = { '1': 'white', '2': 'black', '3': 'other' };
      dictionary[2].missingCodes = ['0'];
      dictionary[2].label = 'Albumin';
    });
    expect(mended.status).toBe(200);
    const cohort = await client.get<CohortInfo>(`/api/cohorts/${body.id}`);
    expect(cohort.dictionary[1].levels).toEqual(['white', 'black', 'other']);
    expect(cohort.summaries[1].counts).toEqual([20, 20, 20]);
    expect(cohort.summaries[2].missing).toBe(12);
    const { rows: shown } = await client.get<{ rows: string[][] }>(
      `/api/cohorts/${body.id}/rows?from=0&count=2`,
    );
    expect(shown).toEqual([
      ['0', 'white', ''],
      ['1', 'black', '41'],
    ]);
  });
});

describe('a file of one column', () => {
  it('is shown with a remark, and refused as a development cohort with a sentence', async () => {
    const study = await client.newStudy('One column');
    const { body } = await client.upload('one.csv', 'age\n50\n60\n');
    expect(body.remarks[0].sentence).toMatch(/^The file is read as one column, age/);
    const refused = await client.bringIn(study, 'age\n50\n60\n', 'development');
    expect(refused.status).toBe(422);
    expect((refused.body as unknown as Refusal).sentence).toMatch(/an outcome and at least one/);
    expect(await client.get(`/api/studies/${study}`)).toMatchObject({ cohort: null });
  });
});

describe('a large file', () => {
  // So wide that storing it takes seconds: there must be time to see it and to stop it.
  const labs = Array.from({ length: 40 }, (_, j) => j);
  const rows = Array.from(
    { length: 300_000 },
    (_, i) =>
      `P${i},${20 + (i % 70)},${i % 9 ? 'no' : 'yes'},${labs.map((j) => (i * (j + 7)) % 101).join(',')}`,
  );
  const file = `patient_id,age,died,${labs.map((j) => `lab_${j}`).join(',')}\n${rows.join('\n')}\n`;

  it('says how far it is while it is stored, and cancelling stores nothing', async () => {
    const study = await client.newStudy('Cancelled');
    const { body } = await client.upload('large.csv', file);
    const stop = new AbortController();
    const storing = fetch(`${product.address}/api/studies/${study}/cohorts`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Origin: product.address },
      body: JSON.stringify({
        purpose: 'development',
        name: 'Large',
        uploadId: body.id,
        dictionary: body.columns.map(({ proposal }) => proposal.entry),
      }),
      signal: stop.signal,
    }).catch(() => 'cancelled');
    const progress = () =>
      client.get<{ rowsDone: number; rowsTotal: number } | null>(
        `/api/uploads/${body.id}/progress`,
      );
    const rowsDone = async () => (await progress())?.rowsDone ?? 0;
    await expect.poll(rowsDone, { interval: 5, timeout: 20_000 }).toBeGreaterThan(0);
    expect((await progress())?.rowsTotal).toBe(300_000);
    stop.abort();
    expect(await storing).toBe('cancelled');
    await expect.poll(progress).toBeNull();
    expect(await client.get(`/api/studies/${study}`)).toMatchObject({ cohort: null });
    expect((await client.get<UploadReview>(`/api/uploads/${body.id}`)).rowCount).toBe(300_000);
  });
});
