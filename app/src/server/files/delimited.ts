import { Problem } from '../problem.ts';
import { decodeText } from './decode.ts';
import { guessDelimiter } from './guess-delimiter.ts';
import type { Reading, Remark } from './reading.ts';
import { readRows } from './rows.ts';
import { LastRows, looksLikeTotals } from './totals.ts';

/** Most columns a file may have. */
const columnLimit = 2000;

export interface DelimitedReader {
  header: (names: string[]) => void;
  row: (cells: string[]) => void;
}

export interface DelimitedFile {
  /** As asked for, the rest as guessed. */
  reading: Reading;
  rowCount: number;
  /** What the analyst should know about how the file was read. */
  remarks: Remark[];
}

/** Reads a delimited text file piece by piece; memory does not grow with the file. */
export async function readDelimited(
  content: AsyncIterable<Uint8Array>,
  reader: DelimitedReader,
  wanted: Partial<Reading> = {},
): Promise<DelimitedFile> {
  const decoded = decodeText(content, wanted.encoding);
  const first = await firstPiece(decoded.text);
  refuseBinary(first);
  const delimiter = wanted.delimiter ?? guessDelimiter(first);
  const leaveOutLast = wanted.leaveOutLast ?? 0;
  let header: NamedColumns | undefined;
  let rowCount = 0;
  const ragged: number[] = [];
  const last = new LastRows(leaveOutLast, reader.row);
  for await (const rows of readRows(joined(first, decoded.text), delimiter))
    for (const cells of rows) {
      if (!header) {
        header = nameColumns(cells);
        reader.header(header.names);
        continue;
      }
      rowCount++;
      if (cells.length !== header.names.length && ragged.length < 1000) ragged.push(rowCount + 1);
      last.push(cells);
    }
  if (!header) throw emptyFile();
  if (rowCount <= leaveOutLast)
    throw new Problem(
      422,
      'no-rows',
      'The file has a header but no rows. Nothing was stored; choose a file with patients in it.',
    );
  const { encoding, unreadable } = decoded.result();
  return {
    reading: { delimiter, encoding, leaveOutLast },
    rowCount: rowCount - leaveOutLast,
    remarks: [
      ...describeOneColumn(header.names),
      ...describeUnreadable(unreadable),
      ...describeTotals(last.newest, rowCount + 1),
      ...header.remarks,
      ...describeRagged(ragged),
    ],
  };
}

const emptyFile = () =>
  new Problem(422, 'empty-file', 'The file is empty. Nothing was stored; choose another file.');

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
  yield first;
  yield* rest;
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

interface NamedColumns {
  names: string[];
  remarks: Remark[];
}

/** A name for each column: empty and repeated ones are given one, which is said. */
function nameColumns(cells: string[]): NamedColumns {
  if (cells.length > columnLimit)
    throw new Problem(
      422,
      'too-many-columns',
      `The file has ${cells.length} columns; at most ${columnLimit} can be brought in. Leave out what the study does not need.`,
    );
  const taken = new Set<string>();
  const given: string[] = [];
  const names = cells.map((cell, position) => {
    const own = cell.trim().slice(0, 200);
    let name = own || `column ${position + 1}`;
    for (let times = 2; taken.has(name); times++) name = `${own.slice(0, 190)} (${times})`;
    taken.add(name);
    if (name !== own) given.push(name);
    return name;
  });
  if (given.length === 0) return { names, remarks: [] };
  const shown = given.slice(0, 5).join(', ') + (given.length > 5 ? ' …' : '');
  const sentence = `The header leaves ${given.length === 1 ? 'a column' : `${given.length} columns`} without a name or uses one twice. They are called: ${shown}.`;
  return { names, remarks: [{ code: 'names', title: 'Names given', sentence }] };
}

function describeRagged(lines: number[]): Remark[] {
  if (lines.length === 0) return [];
  const shown = lines.slice(0, 3).join(', ');
  const count = lines.length >= 1000 ? 'Over 1,000' : String(lines.length);
  const sentence = `${count} ${lines.length === 1 ? 'row has' : 'rows have'} more or fewer cells than the header (line ${shown}${lines.length > 3 ? ' …' : ''}): missing cells are read as not known, extra ones are left out.`;
  return [{ code: 'uneven rows', title: 'Uneven rows', sentence }];
}

function describeTotals(newest: string[] | undefined, line: number): Remark[] {
  if (!newest || !looksLikeTotals(newest)) return [];
  const start = newest.slice(0, 3).filter(Boolean).join(', ');
  const sentence = `Line ${line} begins with ${start}: totals rather than a patient? As it stands it is read as one.`;
  return [{ code: 'totals', title: 'Totals at the end?', sentence }];
}

function describeUnreadable(count: number): Remark[] {
  if (count === 0) return [];
  const sentence = `${count} ${count === 1 ? 'character' : 'characters'} could not be read in this encoding. Another one may fit better.`;
  return [{ code: 'unreadable characters', title: 'Unreadable characters', sentence }];
}

function describeOneColumn(names: string[]): Remark[] {
  if (names.length > 1) return [];
  const sentence = `The file is read as one column, ${names[0]}. If it has more, another mark parts its cells: choose it above the table.`;
  return [{ code: 'one column', title: 'One column only', sentence }];
}
