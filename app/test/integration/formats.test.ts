import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate';
import { parquetMetadataAsync, parquetReadObjects } from 'hyparquet';
import { parquetWriteBuffer } from 'hyparquet-writer';
import ExcelJS from 'exceljs';
import Papa from 'papaparse';
import { beforeAll, describe, expect, it } from 'vitest';
import type { Dictionary } from '@rook-scale/core/table';
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

const header = ['id', 'age', 'seen', 'grade', 'smoker', 'note'];
/** What a table of patients can hold: gaps, dates, accents, commas, quotes, line breaks. */
const patients: (string | number | null)[][] = Array.from({ length: 40 }, (_, i) => [
  `P-${i}`,
  i % 9 === 0 ? null : 20 + i * 1.5,
  `2024-0${1 + (i % 9)}-15`,
  ['mild', 'severe', 'none'][i % 3],
  i % 7 === 0 ? null : i % 2 ? 'yes' : 'no',
  i % 5 === 0 ? null : `naïve, "quoted" ${i}`,
]);
const asText = (cell: string | number | null) => (cell === null ? '' : String(cell));
const objects = patients.map((row) => Object.fromEntries(row.map((cell, j) => [header[j], cell])));

async function workbook(edit: (book: ExcelJS.Workbook) => void): Promise<Uint8Array> {
  const book = new ExcelJS.Workbook();
  edit(book);
  return new Uint8Array(await book.xlsx.writeBuffer());
}

const files: Record<string, () => Promise<string | Uint8Array>> = {
  'patients.csv': () =>
    Promise.resolve(Papa.unparse([header, ...patients.map((row) => row.map(asText))])),
  'patients.xlsx': () =>
    workbook((book) => {
      const sheet = book.addWorksheet('Patients');
      sheet.addRow(header);
      for (const row of patients)
        sheet.addRow(row.map((cell, j) => (j === 2 ? new Date(String(cell)) : cell)));
    }),
  'patients.json': () => Promise.resolve(JSON.stringify(objects)),
  'patients.ndjson': () =>
    Promise.resolve(objects.map((one) => JSON.stringify(one)).join('\n') + '\n'),
  'patients.parquet': () =>
    Promise.resolve(
      new Uint8Array(
        parquetWriteBuffer({
          columnData: header.map((name, j) => ({
            name,
            data: patients.map((row) => row[j]),
            type: j === 1 ? 'DOUBLE' : 'STRING',
          })),
        }),
      ),
    ),
};

async function bringIn(name: string, content: string | Uint8Array): Promise<CohortInfo> {
  const study = await client.newStudy(name);
  const { body } = await client.upload(name, content);
  const dictionary = body.columns.map(({ proposal }) => proposal.entry);
  const made = await client.send<{ id: string }>('POST', `/api/studies/${study}/cohorts`, {
    purpose: 'development',
    name: 'Patients',
    uploadId: body.id,
    dictionary,
  });
  expect(made.status).toBeLessThan(300);
  return client.get(`/api/cohorts/${made.body.id}`);
}

const rowsOf = async (cohort: CohortInfo) =>
  (
    await client.get<{ rows: string[][] }>(
      `/api/cohorts/${cohort.id}/rows?from=0&count=${cohort.rowCount}`,
    )
  ).rows;

const fetchFile = async (cohort: CohortInfo, query: string) => {
  const response = await fetch(`${product.address}/api/cohorts/${cohort.id}/file?${query}`);
  return { response, bytes: new Uint8Array(await response.arrayBuffer()) };
};

describe('a file of any format', () => {
  it.each(Object.keys(files))('%s gives the same patients and kinds', async (name) => {
    const cohort = await bringIn(name, await files[name]());
    expect(cohort.rowCount).toBe(40);
    expect(cohort.dictionary.map(({ kind }) => kind)).toEqual([
      'text',
      'number',
      'date',
      'category',
      'yes/no',
      'text',
    ]);
    expect(await rowsOf(cohort)).toEqual(patients.map((row) => row.map(asText)));
  });

  it('a workbook: times, durations, the first days of 1900, errors and CDATA are no surprise', async () => {
    const written = await workbook((book) => {
      book.addWorksheet('About').addRow(['code', 'means']);
      const sheet = book.addWorksheet('Data');
      sheet.addRow(['id', 'taken', 'stay', 'born', 'seen', 'ratio', 'ward']);
      for (let i = 0; i < 6; i++) {
        // Serial numbers of days, as ECMA-376, 18.17.4 gives them: 1 is 1 January 1900, 61 is 1 March.
        const row = sheet.addRow([i, 0.604166666666667, 1.0833333333, 32, 61 + i, null, 'W1 & W2']);
        row.getCell(2).numFmt = 'hh:mm';
        row.getCell(3).numFmt = '[h]:mm';
        row.getCell(4).numFmt = 'yyyy-mm-dd';
        row.getCell(5).numFmt = 'yyyy-mm-dd';
        row.getCell(6).value = i < 2 ? { error: '#DIV/0!' as ExcelJS.CellErrorValue['error'] } : i;
      }
    });
    const files = unzipSync(written);
    const texts = strFromU8(files['xl/sharedStrings.xml']);
    files['xl/sharedStrings.xml'] = strToU8(
      texts.replace('W1 &amp; W2', () => '<![CDATA[W1 & W2 < 3]]>'),
    );
    expect(files['xl/sharedStrings.xml'].length).toBeGreaterThan(texts.length);
    const { body } = await client.upload('odd.xlsx', zipSync(files));
    expect(body.firstRows[0]).toEqual([
      '0',
      '14:30',
      '26:00',
      '1900-02-01',
      '1900-03-01',
      '',
      'W1 & W2 < 3',
    ]);
    expect(body.firstRows[5].slice(4)).toEqual(['1900-03-06', '5', 'W1 & W2 < 3']);
    const said = body.remarks.map(({ code, sentence }) => `${code}: ${sentence}`);
    expect(said).toEqual([
      'error cells: 2 cells hold errors of the spreadsheet (#DIV/0!) in place of a value. They are read as missing.',
      expect.stringMatching(/^times: 12 cells hold times or durations/),
    ]);
  });

  it('a workbook whose dates count from 1904: dates and times of day are what they were', async () => {
    const written = await workbook((book) => {
      book.properties.date1904 = true;
      const sheet = book.addWorksheet('Data');
      sheet.addRow(['born', 'taken', 'stay']);
      // ECMA-376, 18.17.4.1: 0 is 1 January 1904, and no day is counted that there was not.
      for (const serial of [0, 1, 366, 28_123]) {
        const row = sheet.addRow([serial, 0.604166666666667, 1.0833333333]);
        row.getCell(1).numFmt = 'yyyy-mm-dd';
        row.getCell(2).numFmt = 'hh:mm';
        row.getCell(3).numFmt = '[h]:mm';
      }
    });
    const { body } = await client.upload('from-1904.xlsx', written);
    expect(body.firstRows.slice(2)).toEqual([
      ['1905-01-01', '14:30', '26:00'],
      ['1980-12-30', '14:30', '26:00'],
    ]);
  });

  it('a workbook: the sheet and the row of names can be chosen', async () => {
    const content = await workbook((book) => {
      book.addWorksheet('About').addRow(['Extract of March']);
      const sheet = book.addWorksheet('Data');
      sheet.addRow(['Extract of March, for research only']);
      sheet.addRow([]);
      sheet.addRow(header);
      for (const row of patients) sheet.addRow(row);
      const other = book.addWorksheet('Codes');
      other.addRow(['code', 'means']);
      other.addRow([1, 'never']);
    });
    const { body } = await client.upload('extract.xlsx', content);
    expect(body.reading).toMatchObject({
      format: 'workbook',
      sheet: 'Data',
      sheets: ['About', 'Data', 'Codes'],
      headerRow: 3,
    });
    expect(body.rowCount).toBe(40);
    const codes = await client.send<UploadReview>('PUT', `/api/uploads/${body.id}/reading`, {
      ...body.reading,
      sheet: 'Codes',
      headerRow: 1,
    });
    expect(codes.body.firstRows).toEqual([['1', 'never']]);
  });

  it('JSON: keys of later patients become columns too, nested values are said', async () => {
    const { body } = await client.upload(
      'late.json',
      JSON.stringify([{ a: 1 }, { a: 2, b: { c: [1, 2] } }, { b: null, d: true }]),
    );
    expect(body.columns.map(({ tally }) => tally.name)).toEqual(['a', 'b', 'd']);
    expect(body.firstRows).toEqual([
      ['1', '', ''],
      ['2', '{"c":[1,2]}', ''],
      ['', '', 'true'],
    ]);
    expect(body.remarks.map(({ code }) => code)).toEqual(['nested']);
  });

  it('JSON: numbers of any length, in any encoding, are what they were', async () => {
    const text =
      '[{"Größe": 0.30000000000000004, "id": 12345678901234567890, "x": -1.0000000000000002e-3}]';
    const rows = [['0.30000000000000004', '12345678901234567890', '-0.0010000000000000002']];
    for (const [name, bytes] of [
      ['utf8.json', Buffer.from(text, 'utf8')],
      ['latin.json', Buffer.from(text, 'latin1')],
      ['sixteen.json', Buffer.from(text, 'utf16le')],
      ['marked.json', Buffer.from(`\ufeff${text}`, 'utf16le')],
      ['latin.ndjson', Buffer.from(text.slice(1, -1), 'latin1')],
    ] as const) {
      const { status, body } = await client.upload(name, new Uint8Array(bytes));
      expect([name, status]).toEqual([name, 200]);
      expect(body.columns[0].tally.name).toBe('Größe');
      expect(body.firstRows).toEqual(rows);
      const study = await client.newStudy(name);
      const { body: cohort } = await client.send<{ id: string }>(
        'POST',
        `/api/studies/${study}/cohorts`,
        {
          ...{ purpose: 'screening', name, uploadId: body.id },
          dictionary: body.columns.map(({ proposal }) => proposal.entry),
        },
      );
      const info = await client.get<CohortInfo>(`/api/cohorts/${cohort.id}`);
      expect(info.dictionary[0].name).toBe('Größe');
    }
  });

  it('a line that declares the delimiter is no header', async () => {
    const { body } = await client.upload('declared.csv', 'sep=;\r\nage;note\r\n50;a,b,c\r\n');
    expect(body.columns.map(({ tally }) => tally.name)).toEqual(['age', 'note']);
    expect(body.firstRows).toEqual([['50', 'a,b,c']]);
  });

  it.each([
    ['broken.json', '[{"a": 1}, {"a": ', /cannot be taken as a table/],
    ['numbers.json', '[ {"a": 1}, 2 ]', /entry 2 is no object/],
    ['broken.ndjson', '{"a": 1}\n{"a": \n', /line 2 is not an object/],
    ['empty.json', '[]', /empty/],
    ['cut.parquet', 'PAR1 and then nothing', /begins like Parquet/],
    ['cut.xlsx', 'PK\u0003\u0004 and then nothing', /packed like a workbook/],
  ])('%s is refused with a sentence', async (name, content, sentence) => {
    const { status, body } = await client.upload<Refusal>(name, content);
    expect(status).toBe(422);
    expect(body.sentence).toMatch(sentence);
  });
});

describe('a cohort taken out', () => {
  const cells = patients.map((row) => row.map(asText));
  let cohort: CohortInfo;
  beforeAll(async () => {
    cohort = await bringIn('out.csv', await files['patients.csv']());
    await client.mend(cohort.id, (dictionary: Dictionary) => {
      dictionary.find(({ name }) => name === 'smoker')!.role = 'outcome';
      dictionary.push({
        name: 'older',
        label: 'Older',
        unit: '',
        kind: 'yes/no',
        role: 'predictor',
        missingCodes: [],
        formula: 'age > 40',
      });
    });
    await client.changeDesign(cohort.studyId, { event: 'yes' });
    cohort = await client.get(`/api/cohorts/${cohort.id}`);
  });

  it('as CSV comes back as it was, derived columns included', async () => {
    const { response, bytes } = await fetchFile(cohort, 'format=csv');
    expect(response.headers.get('content-disposition')).toContain('Patients.csv');
    const { data } = Papa.parse<string[]>(new TextDecoder().decode(bytes).trimEnd());
    expect(data[0]).toEqual([...header, 'older']);
    expect(data.slice(1).map((row) => row.slice(0, 6))).toEqual(cells);
    const again = await bringIn('again.csv', bytes);
    expect((await rowsOf(again)).map((row) => row.slice(0, 6))).toEqual(cells);
  });

  it('as a workbook comes back as it was, with the dictionary on a sheet', async () => {
    const { bytes } = await fetchFile(cohort, 'format=xlsx');
    const again = await bringIn('again.xlsx', bytes);
    expect((await rowsOf(again)).map((row) => row.slice(0, 6))).toEqual(cells);
    const book = new ExcelJS.Workbook();
    await book.xlsx.load(bytes.buffer);
    const formula = book.getWorksheet('Dictionary')!.getColumn(13).values;
    expect(formula).toContain('age > 40');
  });

  it('as Parquet comes back as it was, types and dictionary with it', async () => {
    const { bytes } = await fetchFile(cohort, 'format=parquet');
    const again = await bringIn('again.parquet', bytes);
    expect((await rowsOf(again)).map((row) => row.slice(0, 6))).toEqual(cells);
    const file = bytes.buffer;
    const metadata = await parquetMetadataAsync(file);
    expect(metadata.key_value_metadata?.find(({ key }) => key === 'dictionary')?.value).toContain(
      'age > 40',
    );
    const [, second] = await parquetReadObjects({ file });
    expect(second).toMatchObject({ age: 21.5, seen: new Date('2024-02-15'), older: 'no' });
  });

  it('one side of the split at a time; the two are all patients with a known outcome', async () => {
    const ids = async (side: string) => {
      const { bytes } = await fetchFile(cohort, `format=csv&side=${encodeURIComponent(side)}`);
      const { data } = Papa.parse<string[]>(new TextDecoder().decode(bytes).trimEnd());
      return data.slice(1).map(([id]) => id);
    };
    const [development, heldOut] = [await ids('development'), await ids('held out')];
    const known = patients.filter((row) => row[4] !== null).map((row) => row[0]);
    expect([...development, ...heldOut].sort()).toEqual(known.map(String).sort());
    expect(heldOut.length).toBeGreaterThan(0);
  });

  it('is refused in a format that is not there, and by sides before a split', async () => {
    expect((await fetchFile(cohort, 'format=sav')).response.status).toBe(400);
    const fresh = await bringIn('fresh.csv', await files['patients.csv']());
    expect((await fetchFile(fresh, 'format=csv&side=development')).response.status).toBe(409);
  });
});
