import { withoutApostrophe } from '@rook-scale/core/table';
import type { Reading, Remark } from '../../contract/uploads.ts';
import { Problem } from '../ground/problem.ts';
import { cleanText } from './clean-text.ts';
import { decodeText, describeUnreadable } from './decode.ts';
import { guessDelimiter } from './guess-delimiter.ts';
import { readRows, type BrokenCell } from './rows.ts';
import { emptyFile, TableFeed, type RowReader } from './table-feed.ts';
import type { TableRead } from './table-file.ts';

/** Reads a delimited text file piece by piece; memory does not grow with the file. */
export async function readDelimited(
  content: AsyncIterable<Uint8Array>,
  reader: RowReader,
  wanted: Partial<Reading> = {},
): Promise<TableRead> {
  const decoded = decodeText(content, wanted.encoding);
  const { declared, text: first } = withoutDeclaration(await firstPiece(decoded.text));
  refuseBinary(first);
  const delimiter = wanted.delimiter ?? declared ?? guessDelimiter(first);
  const leaveOutLast = wanted.leaveOutLast ?? 0;
  const feed = new TableFeed(reader, leaveOutLast);
  let replaced = 0;
  const clean = cleaned(joined(first, decoded.text), (count) => (replaced += count));
  const broken: BrokenCell[] = [];
  const keep = (cell: BrokenCell) => broken.length < 1000 && broken.push(cell);
  for await (const rows of readRows(clean, delimiter, keep))
    for (const cells of rows)
      feed.row(cells.some(hasApostrophe) ? cells.map(withoutApostrophe) : cells);
  const { rowCount, remarks } = feed.result();
  const { encoding, unreadable } = decoded.result();
  const [alone, others] = split(remarks);
  return {
    reading: { delimiter, encoding, leaveOutLast },
    rowCount,
    remarks: [
      ...alone,
      ...describeUnreadable(unreadable),
      ...describeReplaced(replaced),
      ...describeBroken(broken, rowCount),
      ...others,
    ],
  };
}

/** A quick look: hardly any cell has one. */
const hasApostrophe = (cell: string): boolean => cell.charCodeAt(0) === 0x27;

/** That there is one column only is the first thing to know. */
function split(remarks: Remark[]): [Remark[], Remark[]] {
  const first = (remark: Remark) => remark.code === 'one column';
  return [remarks.filter(first), remarks.filter((remark) => !first(remark))];
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

/** Spreadsheets may write the delimiter on a line before the header: sep=; */
function withoutDeclaration(first: string): { declared?: ',' | ';' | '\t' | '|'; text: string } {
  const found = /^\uFEFF?"?sep=([,;|\t])"?\r?\n/i.exec(first);
  if (!found) return { text: first };
  return { declared: found[1] as ',', text: first.slice(found[0].length) };
}

async function* joined(first: string, rest: AsyncGenerator<string>): AsyncGenerator<string> {
  yield first;
  yield* rest;
}

async function* cleaned(
  text: AsyncGenerator<string>,
  replaced: (count: number) => void,
): AsyncGenerator<string> {
  for await (const piece of text) yield cleanText(piece, replaced);
}

function describeReplaced(count: number): Remark[] {
  if (count === 0) return [];
  const sentence = `${count} control ${count === 1 ? 'character, which no text has, was' : 'characters, which no text has, were'} replaced by \ufffd.`;
  return [{ code: 'unreadable characters', title: 'Control characters', sentence }];
}

/** Notes may have line breaks; where hardly any cell does, a quotation mark is more likely missing. */
function describeBroken(cells: BrokenCell[], rowCount: number): Remark[] {
  if (cells.length === 0 || cells.length > Math.max(3, 0.001 * rowCount)) return [];
  const [{ row, line }] = cells;
  const where = cells.length === 1 ? 'One cell holds' : `${cells.length} cells hold`;
  const sentence = `${where} line breaks (the first in row ${row}, line ${line}), and no other cell does. If a quotation mark is missing there, rows run into one cell: compare the number of rows with the source.`;
  return [{ code: 'line breaks', title: 'Line breaks in a cell', sentence }];
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
