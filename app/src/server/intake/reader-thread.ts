// The thread in which a file is read: what a file does to whoever reads it, it does here.
import { parentPort } from 'node:worker_threads';
import {
  ColumnBuilder,
  ColumnCells,
  summarise,
  TooManyLevels,
  type Column,
  type Dictionary,
} from '@rook-scale/core/table';
import { readDelimited, type RowReader, type TableRead } from '../files/index.ts';
import { isConnectionError } from '../ground/database/index.ts';
import { logError } from '../ground/log.ts';
import { Problem } from '../ground/problem.ts';
import { sharedColumn } from '../shared-arrays.ts';
import { cellMemory } from './limits.ts';
import { keptFile } from './kept-file.ts';
import { brokenFile } from './problems.ts';
import { readKept } from './read-kept.ts';
import { asCsv, combineSheets, type Sheet } from './combine-sheets.ts';
import type { Answer, Ask, ColumnsRead, SheetNamed } from './reader-protocol.ts';

const port = parentPort!;
const rowsShown = 60;
/** Milliseconds between two words of how far it is. */
const wordEvery = 250;

let names: string[] = [];
let columns: ColumnCells[] = [];
let rowCount = 0;
let hand: ((bytes: Uint8Array | null) => void) | undefined;
const pieces: (Uint8Array | null)[] = [];
let combined: Generator<Uint8Array, undefined> | undefined;

port.on('message', (asked: Ask) => {
  if (asked.ask !== 'piece') {
    void answer(asked);
    return;
  }
  pieces.push(asked.bytes);
  hand?.(null);
});

async function answer(asked: Exclude<Ask, { ask: 'piece' }>): Promise<void> {
  try {
    say(await carryOut(asked));
  } catch (error) {
    say(wordsFor(error));
  }
}

const say = (what: Answer) => port.postMessage(what);

function carryOut(asked: Exclude<Ask, { ask: 'piece' }>): Promise<Answer> | Answer {
  switch (asked.ask) {
    case 'survey':
      return survey(asked);
    case 'columns':
      return { columns: fromCells(asked.dictionary) };
    case 'build':
      return build(asked);
    case 'combine':
      return combine(asked);
    case 'combined':
      return { piece: combined?.next().value ?? null };
  }
}

function wordsFor(error: unknown): Answer {
  if (error instanceof Problem) {
    const { status, code, sentence } = error;
    return { problem: { status, code, sentence } };
  }
  if (error instanceof TooManyLevels)
    return { problem: { status: 422, code: 'not-possible', sentence: error.message } };
  if (isConnectionError(error)) return { away: true };
  logError('file not read', error);
  return wordsFor(brokenFile());
}

/** One pass over a file: how it is read, and what its columns hold. */
async function survey({
  file,
  wanted,
  incoming,
}: Extract<Ask, { ask: 'survey' }>): Promise<Answer> {
  columns = [];
  combined = undefined;
  // Of a file before that was given up in its midst.
  pieces.length = 0;
  const firstRows: string[][] = [];
  let rows = 0;
  const reader: RowReader = {
    header(found) {
      names = found;
      columns = names.map((name) => new ColumnCells(name));
    },
    row(cells) {
      for (let i = 0; i < columns.length; i++) columns[i].add(cells[i] ?? '');
      if (firstRows.length < rowsShown) firstRows.push(columns.map((_, i) => cells[i] ?? ''));
      if (++rows % 65_536 === 0) mindMemory();
    },
  };
  const read: TableRead = incoming
    ? await readDelimited(comingIn(), reader)
    : await readKept(keptFile(file.id, file.size), reader, wanted);
  mindMemory();
  ({ rowCount } = read);
  const tallies = columns.map((column) => column.tally());
  const kept = columns.every((column) => column.kept);
  const cellBytes = kept ? columns.reduce((sum, column) => sum + column.bytes, 0) : null;
  return { surveyed: { ...read, tallies, firstRows }, cellBytes };
}

/** Lets the cells of a file go that are more than can be kept; they are counted all the same. */
function mindMemory(): void {
  const bytes = columns.reduce((sum, column) => sum + column.bytes, 0);
  if (bytes > cellMemory) for (const column of columns) column.forget();
}

async function* comingIn(): AsyncGenerator<Uint8Array> {
  for (;;) {
    if (pieces.length === 0)
      await new Promise<void>((resolve) => {
        hand = () => resolve();
      });
    hand = undefined;
    const piece = pieces.shift();
    if (piece === null) return;
    if (piece === undefined) continue;
    yield piece;
    say({ took: true });
  }
}

function fromCells(dictionary: Dictionary): ColumnsRead {
  const byName = new Map(columns.map((column, i) => [names[i], column]));
  let last = Date.now();
  return finished(
    rowCount,
    dictionary.map((entry, i) => {
      const cells = byName.get(entry.name);
      if (!cells) throw columnAbsent(entry.name);
      last = word((i + 1) / dictionary.length, last);
      return cells.column(entry);
    }),
  );
}

async function build({
  file,
  reading,
  rows: rowsTotal,
  dictionary,
}: Extract<Ask, { ask: 'build' }>): Promise<Answer> {
  let places: number[] = [];
  const builders = dictionary.map((entry) => new ColumnBuilder(entry, rowsTotal));
  let rows = 0;
  let last = Date.now();
  const read = await readKept(
    keptFile(file.id, file.size),
    {
      header(found) {
        places = dictionary.map((entry) => found.indexOf(entry.name));
        const absent = dictionary.find((_, i) => places[i] < 0);
        if (absent) throw columnAbsent(absent.name);
      },
      row(cells) {
        for (let i = 0; i < builders.length; i++) builders[i].add(cells[places[i]] ?? '');
        if (++rows % 1000 === 0) last = word(rows / rowsTotal, last);
      },
    },
    reading,
  );
  return {
    columns: finished(
      read.rowCount,
      builders.map((builder) => builder.result()),
    ),
  };
}

async function combine({
  first,
  second,
  wanted,
}: Extract<Ask, { ask: 'combine' }>): Promise<Answer> {
  const { sheet, remark } = combineSheets(await sheetOf(first), await sheetOf(second), wanted);
  combined = asCsv(sheet);
  return { fileName: sheet.fileName, remark };
}

async function sheetOf({ id, size, fileName, reading }: SheetNamed): Promise<Sheet> {
  const sheet: Sheet = { fileName, names: [], rows: [] };
  await readKept(
    keptFile(id, size),
    { header: (names) => (sheet.names = names), row: (cells) => sheet.rows.push(cells) },
    reading,
  );
  return sheet;
}

function finished(count: number, read: Column[]): ColumnsRead {
  return {
    rowCount: count,
    columns: read.map(sharedColumn),
    summaries: read.map((column) => summarise(column)),
  };
}

function word(share: number, last: number): number {
  const now = Date.now();
  if (now - last < wordEvery) return last;
  say({ done: share });
  return now;
}

const columnAbsent = (name: string) =>
  new Problem(422, 'column-absent', `The file has no column "${name}".`);
