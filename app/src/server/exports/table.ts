import { showValue, type Table } from '@rook-scale/core/table';

/** A table with the rows of it that are taken out; all when there are none named. */
export type Exported = Table & { rows?: Int32Array };

export const countRows = ({ rows, rowCount }: Exported) => rows?.length ?? rowCount;
export const rowAt = ({ rows }: Exported, i: number) => rows?.[i] ?? i;

/** One row as text, as it stands in the interface. */
export function cellsOf(table: Exported, i: number): string[] {
  const row = rowAt(table, i);
  return table.columns.map((column, j) =>
    showValue(column, row, table.dictionary[j].kind === 'date'),
  );
}
