import readXlsxFile from 'read-excel-file/node';
import type { Reading, Remark } from '../../contract/uploads.ts';
import { Problem } from '../ground/problem.ts';
import { checkArchive, type ArchiveSeen } from './check-archive.ts';
import { cellOf } from './cell-of.ts';
import { describeErrors, withoutCdata } from './sheet-errors.ts';
import { TableFeed, type RowReader } from './table-feed.ts';
import type { KeptFile, TableRead } from './table-file.ts';
import { notDelimited, wholeFile } from './whole.ts';

/** One sheet of a workbook (Office Open XML); the first with rows unless another is asked for. */
export async function readWorkbook(
  file: KeptFile,
  reader: RowReader,
  wanted: Partial<Reading>,
): Promise<TableRead> {
  const bytes = await wholeFile(file, 60, 'Save the sheet as CSV and bring that in.');
  const { sheets, errorsOf, from1904 } = await open(bytes);
  const chosen =
    sheets.find(({ sheet }) => sheet === wanted.sheet) ??
    sheets.find(({ data }) => data.length > 1) ??
    sheets[0];
  const headerRow = wanted.headerRow ?? firstFilledRow(chosen.data);
  const leaveOutLast = wanted.leaveOutLast ?? 0;
  const feed = new TableFeed(reader, leaveOutLast);
  const rows = chosen.data.slice(headerRow - 1);
  let times = 0;
  const width = Math.max(0, ...rows.slice(0, 1).map(lastFilled));
  const textOf = (value: unknown): string => {
    const time = value instanceof Date ? timeText(value, from1904) : undefined;
    if (time !== undefined) times++;
    return time ?? cellOf(value instanceof Date ? asMeant(value) : value);
  };
  rows.forEach((row, i) => {
    if (i > 0 && row.every((cell) => cell === null)) return;
    feed.row(
      Array.from({ length: i === 0 ? width : Math.max(width, lastFilled(row)) }, (_, j) =>
        textOf(row[j]),
      ),
    );
  });
  const { rowCount, remarks } = feed.result();
  return {
    reading: {
      ...notDelimited,
      leaveOutLast,
      format: 'workbook',
      sheet: chosen.sheet,
      sheets: sheets.map(({ sheet }) => sheet),
      headerRow,
    },
    rowCount,
    remarks: [
      ...remarks,
      ...errorsOf(sheets.indexOf(chosen)),
      ...(times > 0 ? [timesRemark(times)] : []),
    ],
  };
}

async function open(bytes: Buffer) {
  let seen: ArchiveSeen | undefined;
  try {
    seen = checkArchive(bytes);
  } catch (error) {
    if (error instanceof Problem) throw error;
    // A broken archive: said below.
  }
  try {
    const plain = seen?.hasCdata ? Buffer.from(withoutCdata(bytes)) : bytes;
    const sheets = await readXlsxFile(plain);
    const errorsOf = (sheet: number) => (seen?.hasErrors ? describeErrors(bytes, sheet) : []);
    if (sheets.length > 0) return { sheets, errorsOf, from1904: seen?.from1904 ?? false };
  } catch {
    // Said below: what the package finds wrong means nothing to the analyst.
  }
  throw new Problem(
    422,
    'not-a-workbook',
    'This file is packed like a workbook but cannot be read as one. Export the table as CSV and bring that in; nothing was stored.',
  );
}

const day = 86_400_000;
/** Day 0 of the serial dates of spreadsheets, which have a 29 February 1900 as day 60 (ECMA-376, 18.17.4.1). */
const dayZero = Date.UTC(1899, 11, 30);
const leapDay = 60;
/** Day 0 of the other serial dates, as a serial date of these. */
const dayZeroOf1904 = 1462;

/** A time of day or a duration, which is stored as a fraction of days; undefined for dates. */
function timeText(value: Date, from1904: boolean): string | undefined {
  const serial = (value.getTime() - dayZero) / day - (from1904 ? dayZeroOf1904 : 0);
  // A date that early with a time of day is a duration of some days.
  if (serial < 0 || serial > leapDay || (serial >= 1 && Number.isInteger(serial))) return undefined;
  const seconds = Math.round(serial * 86_400);
  const [hours, minutes, rest] = [
    Math.floor(seconds / 3600),
    Math.floor((seconds % 3600) / 60),
    seconds % 60,
  ].map((part) => String(part).padStart(2, '0'));
  return rest === '00' ? `${hours}:${minutes}` : `${hours}:${minutes}:${rest}`;
}

/** Dates before March 1900, which their reader takes for a day earlier. */
function asMeant(value: Date): Date {
  const serial = (value.getTime() - dayZero) / day;
  return serial >= 1 && serial < leapDay ? new Date(value.getTime() + day) : value;
}

const timesRemark = (count: number): Remark => ({
  code: 'times',
  title: 'Times and durations',
  sentence: `${count === 1 ? '1 cell holds a time or a duration' : `${count} cells hold times or durations`}, written here as hours and minutes, such as 14:30. A model cannot use them as they are; save them as numbers of hours or minutes to use them.`,
});

function lastFilled(row: readonly unknown[]): number {
  let last = row.length;
  while (last > 0 && (row[last - 1] === null || row[last - 1] === '')) last--;
  return last;
}

/** Titles above a table fill one cell or two; its header is the first row as wide as most. */
function firstFilledRow(data: readonly (readonly unknown[])[]): number {
  const widths = data.slice(0, 30).map((row) => row.filter((cell) => cell !== null).length);
  const most = Math.max(0, ...widths);
  return Math.max(1, widths.findIndex((width) => width >= Math.max(1, 0.6 * most)) + 1);
}
