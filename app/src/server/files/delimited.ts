import { Readable } from 'node:stream';
import Papa from 'papaparse';
import { Problem } from '../problem.ts';

/** Most columns a file may have. */
const columnLimit = 2000;
/** Longest line, in characters; longer means that the file is no table. */
const lineLimit = 1_000_000;

export interface DelimitedReader {
  header: (names: string[]) => void;
  row: (cells: string[]) => void;
}

export interface DelimitedFile {
  delimiter: string;
  rowCount: number;
  /** What the analyst should know about how the file was read. */
  remarks: string[];
}

/** Reads a delimited text file piece by piece; memory does not grow with the file. */
export async function readDelimited(
  content: AsyncIterable<Uint8Array>,
  reader: DelimitedReader,
): Promise<DelimitedFile> {
  const text = decode(content);
  const first = await firstPiece(text);
  refuseBinary(first);
  const delimiter = guessDelimiter(first);
  let names: string[] | undefined;
  let rowCount = 0;
  const ragged: number[] = [];
  const stream = Readable.from(joined(first, text));
  const parser = Papa.parse(Papa.NODE_STREAM_INPUT, { delimiter, skipEmptyLines: 'greedy' });
  const rows = stream.pipe(parser);
  stream.on('error', (error) => parser.destroy(error));
  for await (const cells of rows as AsyncIterable<string[]>) {
    if (!names) {
      names = nameColumns(cells);
      reader.header(names);
      continue;
    }
    rowCount++;
    if (cells.length !== names.length && ragged.length < 1000) ragged.push(rowCount + 1);
    reader.row(cells);
  }
  if (!names) throw emptyFile();
  if (rowCount === 0)
    throw new Problem(
      422,
      'no-rows',
      'The file has a header but no rows. Nothing was stored; choose a file with patients in it.',
    );
  return { delimiter, rowCount, remarks: describeRagged(ragged) };
}

const emptyFile = () =>
  new Problem(422, 'empty-file', 'The file is empty. Nothing was stored; choose another file.');

async function* decode(content: AsyncIterable<Uint8Array>): AsyncGenerator<string> {
  const decoder = new TextDecoder('utf-8');
  for await (const piece of content) yield decoder.decode(piece, { stream: true });
  yield decoder.decode();
}

/** Enough text to see the delimiter and the header. */
async function firstPiece(text: AsyncGenerator<string>): Promise<string> {
  let first = '';
  while (first.length < 65_536) {
    const next = await text.next();
    if (next.done) break;
    first += next.value;
  }
  if (first.trim() === '') throw emptyFile();
  return first;
}

async function* joined(first: string, rest: AsyncGenerator<string>): AsyncGenerator<string> {
  let sinceBreak = 0;
  const check = (piece: string) => {
    const lastBreak = piece.lastIndexOf('\n');
    sinceBreak = lastBreak < 0 ? sinceBreak + piece.length : piece.length - lastBreak;
    if (sinceBreak > lineLimit)
      throw new Problem(
        422,
        'long-line',
        'The file has a line of over a million characters, so it does not look like a table with one row a patient. Nothing was stored.',
      );
    return piece;
  };
  yield check(first);
  for await (const piece of rest) yield check(piece);
}

function refuseBinary(first: string): void {
  const start = first.slice(0, 4096);
  if (start.startsWith('%PDF-') || start.startsWith('PK\u0003\u0004') || start.includes('\u0000'))
    throw new Problem(
      422,
      'not-text',
      'This file is not delimited text, whatever its name says. Export the table as CSV and bring that in; nothing was stored.',
    );
}

/** The one of comma, semicolon, tab and bar that splits the first line most often. */
function guessDelimiter(first: string): string {
  const line = (/^[^\r\n]*/.exec(first.trimStart())?.[0] ?? '').replace(/"[^"]*"/g, '');
  const counts = [',', ';', '\t', '|'].map((mark) => ({ mark, count: line.split(mark).length }));
  return counts.reduce((best, next) => (next.count > best.count ? next : best)).mark;
}

function nameColumns(cells: string[]): string[] {
  if (cells.length > columnLimit)
    throw new Problem(
      422,
      'too-many-columns',
      `The file has ${cells.length} columns; at most ${columnLimit} can be brought in. Leave out what the study does not need.`,
    );
  const seen = new Map<string, number>();
  return cells.map((cell, position) => {
    const name = cell.trim().slice(0, 200) || `column ${position + 1}`;
    const times = (seen.get(name) ?? 0) + 1;
    seen.set(name, times);
    return times === 1 ? name : `${name} (${times})`;
  });
}

function describeRagged(lines: number[]): string[] {
  if (lines.length === 0) return [];
  const shown = lines.slice(0, 3).join(', ');
  const count = lines.length >= 1000 ? 'Over 1,000' : String(lines.length);
  return [
    `${count} ${lines.length === 1 ? 'row has' : 'rows have'} more or fewer cells than the header (line ${shown}${lines.length > 3 ? ' …' : ''}): missing cells are read as not known, extra ones are left out.`,
  ];
}
