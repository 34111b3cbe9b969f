import { PassThrough } from 'node:stream';
import ExcelJS from 'exceljs';
import { dictionaryRows, isMissing, showValue, type Dictionary } from '@rook-scale/core/table';
import { Problem } from '../ground/problem.ts';
import { countRows, rowAt, type Exported } from './table.ts';

/** Rows that a sheet can have (ECMA-376). */
const sheetLimit = 1_048_576;

/** Office Open XML: the patients on one sheet, the dictionary on another. */
export async function* workbookFile(
  table: Exported,
  dictionary: Dictionary,
): AsyncGenerator<Uint8Array> {
  const count = countRows(table);
  if (count >= sheetLimit)
    throw new Problem(
      422,
      'too-many-rows',
      `A sheet holds ${(sheetLimit - 1).toLocaleString('en-GB')} patients at most. Take these out as CSV or Parquet.`,
    );
  const stream = new PassThrough();
  const workbook = new ExcelJS.stream.xlsx.WorkbookWriter({ stream });
  const written = writeSheets(workbook, table, dictionary, count);
  written.catch((error: unknown) => stream.destroy(error as Error));
  yield* stream as AsyncIterable<Uint8Array>;
  await written;
}

async function writeSheets(
  workbook: InstanceType<typeof ExcelJS.stream.xlsx.WorkbookWriter>,
  table: Exported,
  dictionary: Dictionary,
  count: number,
): Promise<void> {
  const patients = workbook.addWorksheet('Patients');
  patients.addRow(table.dictionary.map(({ name }) => name)).commit();
  for (let i = 0; i < count; i++) {
    patients.addRow(valuesOf(table, rowAt(table, i))).commit();
    // Now and then the stream is let catch up, so that memory stays even.
    if (i % 2000 === 1999) await new Promise((resolve) => setImmediate(resolve));
  }
  patients.commit();
  const sheet = workbook.addWorksheet('Dictionary');
  for (const row of dictionaryRows(dictionary)) sheet.addRow(row).commit();
  sheet.commit();
  await workbook.commit();
}

/** Numbers as numbers, dates as dates, the rest as text; not known is an empty cell. */
function valuesOf(table: Exported, row: number): (number | string | Date | null)[] {
  return table.columns.map((column, j) => {
    if (isMissing(column, row)) return null;
    if (column.type !== 'number') return showValue(column, row);
    const value = column.values[row];
    return table.dictionary[j].kind === 'date' ? new Date(value * 86_400_000) : value;
  });
}
