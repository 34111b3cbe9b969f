import { describe, expect, it } from 'vitest';
import { randomStream, type RandomStream } from '@rook-scale/core/numeric';
import { delimiters, type Reading } from '../../src/contract/uploads.ts';
import { readDelimited, type TableRead, type Encoding } from '../../src/server/files/index.ts';

interface Read extends TableRead {
  header: string[];
  rows: string[][];
}

async function read(bytes: Uint8Array, pieces: number[], wanted?: Partial<Reading>): Promise<Read> {
  async function* content() {
    let at = 0;
    for (const size of pieces) {
      yield bytes.subarray(at, at + size);
      at += size;
    }
    if (at < bytes.length) yield bytes.subarray(at);
    await Promise.resolve();
  }
  let header: string[] = [];
  const rows: string[][] = [];
  const reader = {
    header: (names: string[]) => (header = names),
    row: (r: string[]) => rows.push(r),
  };
  const file = await readDelimited(content(), reader, wanted);
  return { ...file, header, rows };
}

const words = [
  'ward',
  'Köln',
  'a, b',
  'c; d',
  'e\tf',
  'g|h',
  'say "no"',
  'line\nbreak',
  '12',
  '3.5',
];
const plainWords = words.filter((word) => !word.includes('\n'));

interface Written {
  rows: string[][];
  bytes: Buffer;
  delimiter: string;
}

/** A table of drawn words in a drawn dialect of delimited text. */
function write(draw: RandomStream, encoding: Encoding, rowCount: number): Written {
  const one = <T>(from: readonly T[]) => from[Math.floor(draw.uniform() * from.length)];
  const delimiter = one(delimiters);
  const ending = one(['\n', '\r\n']);
  const width = 2 + Math.floor(draw.uniform() * 4);
  const pool = draw.uniform() < 0.5 ? words : plainWords;
  const rows = [
    Array.from({ length: width }, (_, i) => `column ${i}`),
    ...Array.from({ length: rowCount }, (_, i) => [
      `P${i}`,
      ...Array.from({ length: width - 1 }, () => one(pool)),
    ]),
  ];
  const quote = (cell: string) =>
    /[",;|\t\n]/.test(cell) || draw.uniform() < 0.2 ? `"${cell.replaceAll('"', '""')}"` : cell;
  const text = rows.map((row) => row.map(quote).join(delimiter)).join(ending) + one(['', ending]);
  return { rows, delimiter, bytes: encode(text, encoding, draw.uniform() < 0.5) };
}

function encode(text: string, encoding: Encoding, mark: boolean): Buffer {
  const marked = mark ? `\ufeff${text}` : text;
  if (encoding === 'utf-8') return Buffer.from(marked);
  if (encoding === 'windows-1252') return Buffer.from(text, 'latin1');
  const wide = Buffer.from(marked, 'utf16le');
  return encoding === 'utf-16be' ? wide.swap16() : wide;
}

describe('delimited text in any dialect', () => {
  const encodings: Encoding[] = ['utf-8', 'windows-1252', 'utf-16le', 'utf-16be'];

  it.each(encodings)(
    'in %s is read to the same cells, however it is cut into pieces',
    async (...of) => {
      const [encoding] = of;
      const draw = randomStream(4, encoding);
      for (let trial = 0; trial < 25; trial++) {
        const { rows, bytes, delimiter } = write(draw, encoding, 40);
        const pieces = Array.from({ length: 60 }, () => 1 + Math.floor(draw.uniform() * 40));
        for (const cut of [[], pieces]) {
          const file = await read(bytes, cut);
          expect(file.reading).toEqual({
            delimiter,
            encoding: seenAs(rows, encoding),
            leaveOutLast: 0,
          });
          expect([file.header, ...file.rows]).toEqual(rows);
          expect(file.rowCount).toBe(rows.length - 1);
        }
      }
    },
  );

  /** Without a letter beyond ASCII nobody can tell Latin-1 from UTF-8, and it does not matter. */
  function seenAs(rows: string[][], encoding: Encoding): Encoding {
    const beyond = rows.flat().some((cell) => cell.includes('ö'));
    return encoding === 'windows-1252' && !beyond ? 'utf-8' : encoding;
  }

  it('as asked for wins over what it looks like', async () => {
    const bytes = Buffer.from('a;b,c\n1;2,3\n4;5,6\n');
    expect((await read(bytes, [], { delimiter: ';' })).header).toEqual(['a', 'b,c']);
    expect((await read(bytes, [], { delimiter: ',' })).header).toEqual(['a;b', 'c']);
    const latin = await read(Buffer.from('näme,x\n1,2\n'), [], { encoding: 'windows-1252' });
    expect(latin.header[0]).toBe('nÃ¤me');
  });
});

describe('files at their limits', () => {
  const refused = async (text: string | Uint8Array) => {
    const bytes = typeof text === 'string' ? Buffer.from(text) : text;
    return read(bytes, []).then(
      () => 'taken',
      (error: unknown) => (error as { sentence: string }).sentence,
    );
  };

  it.each<[string, string | Uint8Array, RegExp]>([
    ['nothing', '', /The file is empty/],
    ['a byte-order mark alone', Uint8Array.of(0xef, 0xbb, 0xbf), /The file is empty/],
    ['half a byte-order mark', Uint8Array.of(0xff, 0xfe), /The file is empty/],
    ['a header without a line end', 'a,b', /has a header but no rows/],
    ['blank lines after the header', 'a,b\n\n \n,\n', /has a header but no rows/],
    ['zero bytes', new Uint8Array(500), /not delimited text/],
    [
      'a quotation mark that never ends',
      `a,b\n1,"open\n${'2,3\n'.repeat(400_000)}`,
      /A quotation mark in row 1 or after it never ends/,
    ],
    ['a line without end', `a,b\n${'x'.repeat(3_000_000)}`, /a line of over a million characters/],
  ])('%s', async (_name, text, sentence) => {
    expect(await refused(text)).toMatch(sentence);
  });

  it('a last row without a line end, and blank lines between, are no matter', async () => {
    const file = await read(Buffer.from('a,b\r\n\r\n1,2\r\n   \r\n3,4'), []);
    expect(file.rows).toEqual([
      ['1', '2'],
      ['3', '4'],
    ]);
  });

  it('a carriage return alone ends lines too, also at the end of a piece', async () => {
    const file = await read(Buffer.from('a,b\r1,2\r3,4\r'), [4, 4, 4]);
    expect(file.rows).toEqual([
      ['1', '2'],
      ['3', '4'],
    ]);
  });

  it.each([
    ['Total', true],
    ['TOTAL:', true],
    ['Mean', true],
    ['n = 24', true],
    ['Summe', true],
    ['Totally', false],
    ['Count Basie', false],
    ['P24', false],
  ])('a last row that begins with %s is totals: %s', async (word, expected) => {
    const file = await read(Buffer.from(`id,age\nP1,50\nP2,60\n${word},55\n`), []);
    expect(file.remarks.some(({ code }) => code === 'totals')).toBe(expected);
  });

  it('rows left out at the end are never handed on', async () => {
    const bytes = Buffer.from('id,age\nP1,50\nP2,60\n,\nTotal,110\nMean,55\n');
    const file = await read(bytes, [], { leaveOutLast: 2 });
    expect(file.rows.map(([id]) => id)).toEqual(['P1', 'P2']);
    expect(file).toMatchObject({ rowCount: 2, remarks: [] });
  });
});
