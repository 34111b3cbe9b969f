import {
  parquetMetadataAsync,
  parquetReadObjects,
  parquetSchema,
  type FileMetaData,
} from 'hyparquet';
import { compressors } from 'hyparquet-compressors';
import type { Reading } from '../../contract/uploads.ts';
import { Problem } from '../ground/problem.ts';
import { cellOf } from './cell-of.ts';
import { cleanText } from './clean-text.ts';
import { limits, pageTooLarge, tooManyRows } from './limits.ts';
import { TableFeed, type RowReader } from './table-feed.ts';
import type { KeptFile, TableRead } from './table-file.ts';
import { notDelimited } from './whole.ts';

/** Rows taken at once; row groups may hold far more. */
const rowsAtOnce = 20_000;

/** Unpackers that look first at how large a page is going to be. */
const carefulCompressors = Object.fromEntries(
  Object.entries(compressors).map(([name, unpack]) => [
    name,
    (input: Uint8Array, outputLength: number) => {
      if (!(outputLength <= limits.page)) throw pageTooLarge();
      return unpack(input, outputLength);
    },
  ]),
) as typeof compressors;

/** A Parquet file, read piece by piece from where its columns lie. */
export async function readParquet(
  file: KeptFile,
  reader: RowReader,
  wanted: Partial<Reading>,
): Promise<TableRead> {
  const leaveOutLast = wanted.leaveOutLast ?? 0;
  const feed = new TableFeed(reader, leaveOutLast);
  const source = {
    byteLength: file.size,
    async slice(from: number, to = file.size): Promise<ArrayBuffer> {
      const bytes = await file.slice(from < 0 ? file.size + from : from, to);
      return Uint8Array.from(bytes).buffer;
    },
  };
  try {
    const metadata = await parquetMetadataAsync(source);
    const names = parquetSchema(metadata).children.map(({ element }) => element.name);
    feed.row(names.map((name) => cleanText(name)));
    const rows = Number(metadata.num_rows);
    if (!(rows <= limits.rows)) throw tooManyRows();
    if (!holdsItsRows(metadata)) throw new Error('It claims rows that it does not hold.');
    for (let rowStart = 0; rowStart < rows; rowStart += rowsAtOnce) {
      const part = await parquetReadObjects({
        file: source,
        metadata,
        compressors: carefulCompressors,
        rowStart,
        rowEnd: Math.min(rows, rowStart + rowsAtOnce),
      });
      for (const row of part)
        feed.row(names.map((name) => cellOf(Object.hasOwn(row, name) ? row[name] : undefined)));
    }
  } catch (error) {
    if (error instanceof Problem) throw error;
    throw new Problem(
      422,
      'not-parquet',
      'This file begins like Parquet but cannot be read as it. It may be cut short; export it again. Nothing was stored.',
    );
  }
  const { rowCount, remarks } = feed.result();
  return { reading: { ...notDelimited, leaveOutLast, format: 'Parquet' }, rowCount, remarks };
}

/** Whether groups have as many rows as the file, and columns a value or a null for each of them. */
function holdsItsRows({ num_rows: claimed, row_groups: groups }: FileMetaData): boolean {
  const held = groups.reduce((sum, group) => sum + group.num_rows, 0n);
  return (
    held === claimed &&
    groups.every((group) =>
      group.columns.every((column) => (column.meta_data?.num_values ?? 0n) >= group.num_rows),
    )
  );
}
