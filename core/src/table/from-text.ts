import { ColumnBuilder } from './build.ts';
import type { Table } from './column.ts';
import type { Dictionary } from './dictionary.ts';
import { proposeEntries } from './propose.ts';
import { ColumnCounter } from './tally.ts';

/**
 * A table from cells already split into rows of text, as a file reader gives them.
 *
 * @param dictionary as confirmed; when left out, each column is taken as its cells suggest
 */
export function tableFromText(
  header: string[],
  rows: string[][],
  dictionary: Dictionary = proposeAll(header, rows),
): Table {
  const builders = dictionary.map((entry) => new ColumnBuilder(entry));
  const places = dictionary.map((entry) => header.indexOf(entry.name));
  for (const row of rows)
    for (let i = 0; i < builders.length; i++) builders[i].add(row[places[i]] ?? '');
  const columns = builders.map((builder) => builder.result());
  return {
    rowCount: rows.length,
    columns,
    dictionary: dictionary.map((entry, i) => {
      const column = columns[i];
      return column.type === 'coded' ? { ...entry, levels: column.levels } : entry;
    }),
  };
}

function proposeAll(header: string[], rows: string[][]): Dictionary {
  const counters = header.map((name) => new ColumnCounter(name));
  for (const row of rows) for (let i = 0; i < counters.length; i++) counters[i].add(row[i] ?? '');
  return proposeEntries(counters.map((counter) => counter.result())).map(({ entry }) => entry);
}
