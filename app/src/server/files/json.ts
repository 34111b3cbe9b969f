import { createInterface } from 'node:readline';
import { Readable } from 'node:stream';
import type { Reading, Remark } from '../../contract/uploads.ts';
import { cellOf } from './cell-of.ts';
import { cleanText } from './clean-text.ts';
import { decodeText, describeUnreadable, type Decoded } from './decode.ts';
import { Problem } from '../ground/problem.ts';
import { limits, tooManyRows } from './limits.ts';
import { TableFeed, type RowReader } from './table-feed.ts';
import type { KeptFile, TableRead } from './table-file.ts';
import { notDelimited, wholeFile } from './whole.ts';

type Line = Record<string, unknown>;

/** An array of objects, one a patient; columns are all keys in the order in which they first appear. */
export async function readJson(
  file: KeptFile,
  reader: RowReader,
  wanted: Partial<Reading>,
): Promise<TableRead> {
  const advice = 'Bring it in as JSON lines (one object a line) or CSV.';
  const bytes = await wholeFile(file, 100, advice);
  if (entriesIn(bytes) > limits.rows) throw tooManyRows();
  const decoded = decodeText(piecesOf([bytes]), wanted.encoding);
  let text = '';
  for await (const piece of decoded.text) text += piece;
  let parsed: unknown;
  try {
    parsed = parse(text.replace(/^\uFEFF/, ''));
  } catch (error) {
    throw notJson(error instanceof Error ? error.message : '');
  }
  if (!Array.isArray(parsed)) throw notJson('it is no list of patients');
  const lines = parsed.map((line, i) => asLine(line, `entry ${i + 1}`));
  const names = [...new Set(lines.flatMap((line) => Object.keys(line)))];
  return feedLines(names, lines, reader, wanted, 'JSON', decoded.result);
}

// eslint-disable-next-line @typescript-eslint/require-await -- what decodes takes pieces as they come
async function* piecesOf(pieces: Uint8Array[]): AsyncGenerator<Uint8Array> {
  yield* pieces;
}

/** One object a line; read twice, so that memory does not grow with the file. */
export async function readJsonLines(
  file: KeptFile,
  reader: RowReader,
  wanted: Partial<Reading>,
): Promise<TableRead> {
  const names = new Set<string>();
  for await (const line of linesOf(decodeText(file.stream(), wanted.encoding)))
    for (const key of Object.keys(line)) names.add(key);
  const decoded = decodeText(file.stream(), wanted.encoding);
  return feedLines([...names], linesOf(decoded), reader, wanted, 'JSON lines', decoded.result);
}

async function* linesOf({ text: pieces }: Decoded): AsyncGenerator<Line> {
  let number = 0;
  const input = Readable.from(pieces);
  for await (const text of createInterface({ input, crlfDelay: Infinity })) {
    number++;
    const trimmed = text.replace(/^\uFEFF/, '').trim();
    if (trimmed === '') continue;
    let parsed: unknown;
    try {
      parsed = parse(trimmed);
    } catch {
      throw notJson(`line ${number} is not an object on its own`);
    }
    yield asLine(parsed, `line ${number}`);
  }
}

async function feedLines(
  names: string[],
  lines: Iterable<Line> | AsyncIterable<Line>,
  reader: RowReader,
  wanted: Partial<Reading>,
  format: 'JSON' | 'JSON lines',
  decoding: Decoded['result'],
): Promise<TableRead> {
  const leaveOutLast = wanted.leaveOutLast ?? 0;
  const feed = new TableFeed(reader, leaveOutLast);
  const nested = new Set<string>();
  if (names.length > 0) feed.row(names.map((name) => cleanText(name)));
  for await (const line of lines)
    feed.row(
      names.map((name) => {
        const value = Object.hasOwn(line, name) ? line[name] : undefined;
        if (typeof value === 'object' && value !== null) nested.add(name);
        return cellOf(value);
      }),
    );
  const { rowCount, remarks } = feed.result();
  const { encoding, unreadable } = decoding();
  return {
    reading: { ...notDelimited, encoding, leaveOutLast, format },
    rowCount,
    remarks: [...describeUnreadable(unreadable), ...remarks, ...describeNested([...nested])],
  };
}

/** Objects and lists right inside of the outermost list, before any of them takes memory. */
function entriesIn(bytes: Uint8Array): number {
  let [entries, depth, inText] = [0, 0, false];
  for (let i = 0; i < bytes.length; i++) {
    const byte = bytes[i];
    if (inText) {
      if (byte === code.backslash) i++;
      else if (byte === code.quote) inText = false;
    } else if (byte === code.quote) inText = true;
    else if (byte === code.bracket || byte === code.brace) {
      if (depth++ === 1) entries++;
    } else if (byte === code.bracketEnd || byte === code.braceEnd) depth--;
  }
  return entries;
}

const code = {
  ...{ quote: 0x22, backslash: 0x5c },
  ...{ bracket: 0x5b, bracketEnd: 0x5d, brace: 0x7b, braceEnd: 0x7d },
};

/** Whole numbers longer than a number can hold are identifiers: they are kept as they are written. */
function parse(text: string): unknown {
  const exact = /\d{16}/.test(text) ? text.replace(longNumbers, quoted) : text;
  return JSON.parse(exact);
}

// Digits behind a decimal point or in an exponent are part of a number that is not whole.
const longNumbers = /"(?:[^"\\]|\\.)*"|(?<![\d.eE+-])-?\d{16,}(?![\d.eE])/g;
const quoted = (found: string) => (found.startsWith('"') ? found : `"${found}"`);

function asLine(value: unknown, where: string): Line {
  if (typeof value === 'object' && value !== null && !Array.isArray(value)) return value as Line;
  throw notJson(`${where} is no object with named values`);
}

function describeNested(names: string[]): Remark[] {
  if (names.length === 0) return [];
  const shown = names.slice(0, 5).join(', ') + (names.length > 5 ? ' …' : '');
  const sentence = `${shown} ${names.length === 1 ? 'holds' : 'hold'} lists or objects. They are taken as text.`;
  return [{ code: 'nested', title: 'Nested values', sentence }];
}

const notJson = (why: string) =>
  new Problem(
    422,
    'not-json',
    `This JSON cannot be taken as a table${why ? `: ${why}` : ''}. A list of objects is needed, one a patient. Nothing was stored.`,
  );
