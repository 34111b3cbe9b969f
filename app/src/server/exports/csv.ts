import Papa from 'papaparse';
import { harmlessCell } from '@rook-scale/core/table';
import { cellsOf, countRows, type Exported } from './table.ts';

const rowsAtOnce = 2000;

/** Comma, UTF-8, one header row; not known is the empty cell, and none is a formula. */
// eslint-disable-next-line @typescript-eslint/require-await -- the formats are iterated alike
export async function* csvFile(table: Exported): AsyncGenerator<Uint8Array> {
  const encoder = new TextEncoder();
  const write = (rows: string[][]) => {
    const safe = rows.map((cells) => cells.map(harmlessCell));
    return encoder.encode(`${Papa.unparse(safe, { newline: '\n' })}\n`);
  };
  yield write([table.dictionary.map(({ name }) => name)]);
  const count = countRows(table);
  for (let from = 0; from < count; from += rowsAtOnce)
    yield write(
      Array.from({ length: Math.min(rowsAtOnce, count - from) }, (_, i) =>
        cellsOf(table, from + i),
      ),
    );
}
