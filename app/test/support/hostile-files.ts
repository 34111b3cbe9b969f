import ExcelJS from 'exceljs';
import { deflateRawSync } from 'node:zlib';
import { strToU8, unzipSync, Zip, ZipDeflate, zipSync, type ZipInputFile } from 'fflate';
import { ByteWriter, ParquetWriter } from 'hyparquet-writer';
import { birthWeight } from './birth-weight.ts';

export interface NamedFile {
  name: string;
  content: Uint8Array;
}

/** The same patients in every format that is read: what mutations start from. */
export async function soundFiles(): Promise<NamedFile[]> {
  const [header, ...lines] = birthWeight.trim().split('\n').slice(0, 60);
  const names = header.split(',');
  const rows = lines.map((line) => line.split(','));
  const objects = rows.map((cells) => Object.fromEntries(cells.map((cell, i) => [names[i], cell])));
  const text = [header, ...lines].join('\r\n');
  const workbook = new ExcelJS.Workbook();
  const sheet = workbook.addWorksheet('Mothers');
  for (const cells of [names, ...rows]) sheet.addRow(cells);
  const writer = new ByteWriter();
  const parquet = new ParquetWriter({
    writer,
    schema: [
      { name: 'root', num_children: names.length },
      ...names.map((name) => ({
        name,
        type: 'BYTE_ARRAY' as const,
        converted_type: 'UTF8' as const,
        repetition_type: 'OPTIONAL' as const,
      })),
    ],
  });
  await parquet.write({
    columnData: names.map((name, i) => ({ name, data: rows.map((cells) => cells[i]) })),
  });
  await parquet.finish();
  return [
    { name: 'comma.csv', content: strToU8(text) },
    { name: 'semicolon.csv', content: strToU8(text.replaceAll(',', ';')) },
    { name: 'sixteen.txt', content: Buffer.from(`\ufeff${text}`, 'utf16le') },
    { name: 'list.json', content: strToU8(JSON.stringify(objects)) },
    {
      name: 'lines.jsonl',
      content: strToU8(objects.map((one) => JSON.stringify(one)).join('\n')),
    },
    { name: 'book.xlsx', content: new Uint8Array(await workbook.xlsx.writeBuffer()) },
    { name: 'columns.parquet', content: new Uint8Array(writer.getBytes()) },
  ];
}

/** Numbers from 0 to 1 that are the same for the same seed (mulberry32, public domain). */
export function numbersFrom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const inserted = [
  '\u0000',
  '"',
  '""""',
  '\r',
  '\n\n\n',
  '=1+1',
  '\ud800',
  '__proto__',
  '{"a":',
  '[[[[[[[[',
  '9'.repeat(40),
  '1e999',
  '-',
  ' '.repeat(2000),
  'x'.repeat(20_000),
  '\u202e',
  'NaN',
  '0024-13-45',
];

/** A file with one to four things done to it, by chance. */
export function mutated(files: NamedFile[], seed: number): NamedFile {
  const next = numbersFrom(seed);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)];
  const base = pick(files);
  let bytes: Buffer = Buffer.from(base.content);
  const at = () => Math.floor(next() * (bytes.length + 1));
  const times = 1 + Math.floor(next() * 4);
  for (let i = 0; i < times; i++) {
    const [a, b] = [at(), at()].sort((x, y) => x - y);
    const acts: (() => Buffer)[] = [
      // Bits turned over.
      () => {
        const copy = Buffer.from(bytes);
        for (let n = 0; n < 8 && copy.length > 0; n++)
          copy[Math.floor(next() * copy.length)] ^= 1 << Math.floor(next() * 8);
        return copy;
      },
      // Cut off.
      () => bytes.subarray(0, a),
      // A part left out, or twice.
      () => Buffer.concat([bytes.subarray(0, a), bytes.subarray(b)]),
      () => Buffer.concat([bytes.subarray(0, b), bytes.subarray(a)]),
      // Something strange put in.
      () => Buffer.concat([bytes.subarray(0, a), Buffer.from(pick(inserted)), bytes.subarray(a)]),
      // A part of another format put in.
      () => {
        const other = Buffer.from(pick(files).content);
        const from = Math.floor(next() * other.length);
        return Buffer.concat([
          bytes.subarray(0, a),
          other.subarray(from, from + 500),
          bytes.subarray(a),
        ]);
      },
      // Numbers of the kind that says how long something is.
      () => {
        const copy = Buffer.from(bytes);
        if (copy.length > 4)
          copy.writeUInt32LE(
            pick([0, 1, 0x7fffffff, 0xffffffff]),
            Math.floor(next() * (copy.length - 4)),
          );
        return copy;
      },
    ];
    bytes = pick(acts)();
  }
  return { name: base.name, content: bytes };
}

/** A workbook of one sheet with this XML for its rows. */
export function workbookWith(rows: string, more: Record<string, Uint8Array> = {}): Uint8Array {
  const part = (body: string) => strToU8(`<?xml version="1.0" encoding="UTF-8"?>${body}`);
  const main = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';
  const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
  const packages = 'http://schemas.openxmlformats.org/package/2006';
  return zipSync(
    {
      '[Content_Types].xml': part(
        `<Types xmlns="${packages}/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/worksheets/sheet1.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/></Types>`,
      ),
      '_rels/.rels': part(
        `<Relationships xmlns="${packages}/relationships"><Relationship Id="rId1" Type="${office}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
      ),
      'xl/workbook.xml': part(
        `<workbook xmlns="${main}" xmlns:r="${office}"><sheets><sheet name="S" sheetId="1" r:id="rId1"/></sheets></workbook>`,
      ),
      'xl/_rels/workbook.xml.rels': part(
        `<Relationships xmlns="${packages}/relationships"><Relationship Id="rId1" Type="${office}/worksheet" Target="worksheets/sheet1.xml"/></Relationships>`,
      ),
      'xl/worksheets/sheet1.xml': part(
        `<worksheet xmlns="${main}"><sheetData>${rows}</sheetData></worksheet>`,
      ),
      ...more,
    },
    { level: 1 },
  );
}

const header = 'age,died\n';
const row = (a: string, b: string, at = 1) =>
  `<row r="${at}"><c r="A${at}" t="inlineStr"><is><t>${a}</t></is></c><c r="B${at}" t="inlineStr"><is><t>${b}</t></is></c></row>`;
const table = row('age', 'died') + row('50', 'yes', 2);

/** An archive with so many files of zeros more, which pack to next to nothing. @param declared the size that it says they have */
function withZeros(archive: Uint8Array, files: number, declared?: number): Uint8Array {
  const bytes = 256 * 1024 * 1024;
  const pieces: Uint8Array[] = [];
  const zip = new Zip((_error, piece) => pieces.push(piece));
  for (const [name, content] of Object.entries(unzipSync(archive))) {
    const file = new ZipDeflate(name);
    zip.add(file);
    file.push(content, true);
  }
  // Deflated once by Node, which is ten times faster.
  const packed = deflateRawSync(new Uint8Array(bytes), { level: 1 });
  for (let i = 0; i < files; i++) {
    const file: ZipInputFile = {
      filename: `xl/media/${i}.bin`,
      compression: 8,
      size: declared ?? bytes,
      crc: 0,
    };
    zip.add(file);
    file.ondata!(null, packed, true);
  }
  zip.end();
  return Buffer.concat(pieces);
}

/** A Parquet file of three rows whose footer says that there are more. */
function parquetClaiming(rows: number): Uint8Array {
  const writer = new ByteWriter();
  const parquet = new ParquetWriter({
    writer,
    schema: [
      { name: 'root', num_children: 1 },
      { name: 'age', type: 'DOUBLE', repetition_type: 'OPTIONAL' },
    ],
  });
  void parquet.write({ columnData: [{ name: 'age', data: [50, 51, 52] }] });
  const claims = parquet as unknown as { num_rows: bigint };
  claims.num_rows = BigInt(rows);
  void parquet.finish();
  return new Uint8Array(writer.getBytes());
}

/** Files that mean harm: in words, the file, and what the sentence must say that refuses it. */
export const harmfulFiles: [string, () => NamedFile, RegExp][] = [
  [
    'a workbook with one cell in the last column',
    () => ({
      name: 'a.xlsx',
      content: workbookWith(`${table}<row r="1048576"><c r="XFD1048576"><v>1</v></c></row>`),
    }),
    /reaches to row 1,048,576 and column 16,384.*Nothing was stored\.$/,
  ],
  ...['ABCDEFGHI3', 'ABCDE3', 'xfe1', 'ZZZZZZZZZZZZ1'].map(
    (cell): [string, () => NamedFile, RegExp] => [
      `a workbook with a cell ${cell}`,
      () => ({
        name: 'a.xlsx',
        content: workbookWith(`${table}<row r="3"><c r='${cell}'><v>1</v></c></row>`),
      }),
      /reaches to row .* and column .*Nothing was stored\.$/,
    ],
  ),
  [
    'JSON of more entries than there may be rows',
    () => ({ name: 'a.json', content: strToU8(`[${'{},'.repeat(30_000_000)}{"a":1}]`) }),
    /more than 10,000,000 rows/,
  ],
  [
    'a quotation mark that never closes',
    () => ({
      name: 'a.csv',
      content: strToU8(`${header}${'50,no\n'.repeat(900)}51,"yes\n${'52,no\n'.repeat(100)}`),
    }),
    /^A quotation mark in row 902 never closes.*nothing was stored\.$/,
  ],
  [
    'a quotation mark that closes nine rows later',
    () => {
      const row = '1,2,3,4,5,6,7,8\n';
      const merged = `1,2,"3,4,5,6,7,8\n${row.repeat(8)}1,2,3",4,5,6,7,8\n`;
      const content = `a,b,c,d,e,f,g,h\n${row.repeat(40)}${merged}${row.repeat(40)}`;
      return { name: 'a.csv', content: strToU8(content) };
    },
    /^A quotation mark in row 42 \(line 42\) closes 9 lines further down, so 10 rows run into one/,
  ],
  [
    'a workbook with a row numbered 2^53',
    () => ({
      name: 'a.xlsx',
      content: workbookWith(
        `${table}<row r="9007199254740992"><c r="A9007199254740992"><v>1</v></c></row>`,
      ),
    }),
    /reaches to row 9,007,199,254,740,992/,
  ],
  [
    'an archive that unpacks to over 1 GB',
    () => ({
      name: 'a.xlsx',
      content: withZeros(workbookWith(table), 5),
    }),
    /unpacks to more than 1 GB/,
  ],
  [
    'an archive that unpacks to over 1 GB, and says that it does not',
    () => ({ name: 'a.xlsx', content: withZeros(workbookWith(table), 5, 1) }),
    /holds more than its own list of contents says.*Nothing was stored\.$/,
  ],
  [
    'a workbook with a comment of 60 MB',
    () => ({
      name: 'a.xlsx',
      content: workbookWith(`${table}<!--${'no cell '.repeat(7_500_000)}-->`),
    }),
    /^A part of the workbook holds 20 MB with hardly a cell in it.*Nothing was stored\.$/,
  ],
  [
    'a Parquet file that claims ten million rows and holds none of them',
    () => ({ name: 'a.parquet', content: parquetClaiming(9_000_000) }),
    /begins like Parquet but cannot be read as it/,
  ],
  [
    'an archive of 30,000 files',
    () => ({
      name: 'a.xlsx',
      content: workbookWith(
        table,
        Object.fromEntries(Array.from({ length: 30_000 }, (_, i) => [`xl/${i}.xml`, strToU8('x')])),
      ),
    }),
    /packs more than 2,000 files/,
  ],
  [
    'JSON nested 5,000 deep',
    () => ({
      name: 'a.json',
      content: strToU8(`[{"a":${'['.repeat(5000)}${']'.repeat(5000)}}]`),
    }),
    /more than 64 lists or objects inside of each other/,
  ],
  [
    'JSON nested a million deep',
    () => ({ name: 'a.json', content: strToU8(`[{"a":${'['.repeat(1_000_000)}`) }),
    /Nothing was stored/,
  ],
  [
    '100 kB of spaces',
    () => ({ name: 'a.csv', content: strToU8(`${header}${' '.repeat(100_000)}x,no\n`) }),
    /age has over 10,000 characters in row 1, the most a cell can have/,
  ],
  [
    'a file of spaces alone',
    () => ({ name: 'a.csv', content: strToU8(' '.repeat(500_000)) }),
    /The file is empty/,
  ],
  [
    'a row that never ends',
    () => ({ name: 'a.csv', content: strToU8(`${header}"${'x,\n'.repeat(1_000_000)}`) }),
    /quotation mark/,
  ],
  [
    '3,000 columns',
    () => ({ name: 'a.csv', content: strToU8(`${'c,'.repeat(3000)}\n1\n`) }),
    /at most 2000 can be brought in/,
  ],
];
