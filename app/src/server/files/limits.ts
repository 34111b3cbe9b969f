import { Problem } from '../ground/problem.ts';

/** What a file may hold; beyond it, it is no table of patients, or means harm. */
export const limits = {
  /** Columns of a table. */
  columns: 2000,
  /** Rows of a table. */
  rows: 10_000_000,
  /** Cells of a table. */
  cells: 200_000_000,
  /** Characters of a cell. */
  cell: 10_000,
  /** Bytes that an archive unpacks to. */
  unpacked: 1024 * 1024 * 1024,
  /** Files in an archive. */
  entries: 2000,
  /** Cells between the first and the last one of a sheet, filled or not. */
  spanned: 60_000_000,
  /** Lists and objects inside of each other. */
  depth: 64,
  /** Bytes of a page of a Parquet file. */
  page: 256 * 1024 * 1024,
};

const count = (value: number) => value.toLocaleString('en-GB');

const beyond = (sentence: string) =>
  new Problem(422, 'beyond-limits', `${sentence} Nothing was stored.`);

export const tooManyRows = () =>
  beyond(`The file has more than ${count(limits.rows)} rows, the most that can be brought in.`);

export const tooManyCells = () =>
  beyond(`The table has more than ${count(limits.cells)} cells, the most that can be brought in.`);

export const cellTooLong = (row: number, column: string) =>
  beyond(
    `${column} has over ${count(limits.cell)} characters in row ${count(row)}, the most a cell can have. Leave the column out, or shorten it.`,
  );

export const unpacksTooLarge = () =>
  beyond(
    `The file unpacks to more than ${limits.unpacked / 1024 ** 3} GB. Bring the table in as CSV.`,
  );

export const understated = () =>
  beyond('The file holds more than its own list of contents says, so it is damaged or means harm.');

export const mostlyPadding = () =>
  beyond(
    'A part of the workbook holds 20 MB with hardly a cell in it. Save the table as CSV and bring that in.',
  );

export const tooManyEntries = () =>
  beyond(
    `The file packs more than ${count(limits.entries)} files, so it is no workbook with a table.`,
  );

export const sheetTooLarge = (rows: number, columns: number) =>
  beyond(
    `A sheet reaches to row ${count(rows)} and column ${count(columns)}, which is more than can be read. Delete the rows and columns behind the table, or save it as CSV.`,
  );

export const tooDeep = () =>
  beyond(`The file has more than ${limits.depth} lists or objects inside of each other.`);

export const pageTooLarge = () =>
  beyond(
    `A page of the file unpacks to more than ${limits.page / 1024 / 1024} MB. Write it with smaller pages.`,
  );
