import readXlsxFile from 'read-excel-file/node';
import type { Reading } from '../../contract/uploads.ts';
import { Problem } from '../ground/problem.ts';
import { checkArchive } from './check-archive.ts';
import { cellOf } from './cell-of.ts';
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
  const sheets = await open(bytes);
  const chosen =
    sheets.find(({ sheet }) => sheet === wanted.sheet) ??
    sheets.find(({ data }) => data.length > 1) ??
    sheets[0];
  const headerRow = wanted.headerRow ?? firstFilledRow(chosen.data);
  const leaveOutLast = wanted.leaveOutLast ?? 0;
  const feed = new TableFeed(reader, leaveOutLast);
  const rows = chosen.data.slice(headerRow - 1);
  const width = Math.max(0, ...rows.slice(0, 1).map(lastFilled));
  rows.forEach((row, i) => {
    if (i > 0 && row.every((cell) => cell === null)) return;
    feed.row(
      Array.from({ length: i === 0 ? width : Math.max(width, lastFilled(row)) }, (_, j) =>
        cellOf(row[j]),
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
    remarks,
  };
}

async function open(bytes: Buffer) {
  try {
    checkArchive(bytes);
  } catch (error) {
    if (error instanceof Problem) throw error;
    // A broken archive: said below.
  }
  try {
    const sheets = await readXlsxFile(bytes);
    if (sheets.length > 0) return sheets;
  } catch {
    // Said below: what the package finds wrong means nothing to the analyst.
  }
  throw new Problem(
    422,
    'not-a-workbook',
    'This file is packed like a workbook but cannot be read as one. Export the table as CSV and bring that in; nothing was stored.',
  );
}

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
