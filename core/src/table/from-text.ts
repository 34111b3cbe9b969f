import { ColumnCells } from './cells.ts';
import type { Table } from './column.ts';
import type { Dictionary } from './dictionary.ts';
import { proposeEntries } from './propose.ts';

/**
 * A table from cells already split into rows of text, as a file reader gives them.
 *
 * @param dictionary as confirmed; when left out, each column is taken as its cells suggest
 */
export function tableFromText(header: string[], rows: string[][], wanted?: Dictionary): Table {
  const cells = header.map((name) => new ColumnCells(name));
  for (const row of rows) for (let i = 0; i < cells.length; i++) cells[i].add(row[i] ?? '');
  const dictionary =
    wanted ?? proposeEntries(cells.map((column) => column.tally())).map(({ entry }) => entry);
  const columns = dictionary.map((entry) =>
    (cells[header.indexOf(entry.name)] ?? absent(entry.name, rows.length)).column(entry),
  );
  return {
    rowCount: rows.length,
    columns,
    dictionary: dictionary.map((entry, i) => {
      const column = columns[i];
      return column.type === 'coded' ? { ...entry, levels: column.levels } : entry;
    }),
  };
}

/** The cells of a column that the header does not have. */
function absent(name: string, rows: number): ColumnCells {
  const cells = new ColumnCells(name);
  for (let row = 0; row < rows; row++) cells.add('');
  return cells;
}
