import { readFileSync } from 'node:fs';
import Papa from 'papaparse';
import { tableFromText, type Dictionary, type Table } from '../../src/table/index.ts';

/** An open dataset of `data/`; the source of each is named beside the check that uses it. */
export function loadTable(name: string, edit: (dictionary: Dictionary) => void = () => {}): Table {
  const text = readFileSync(new URL(`data/${name}.csv`, import.meta.url), 'utf8');
  const [header, ...rows] = Papa.parse<string[]>(text, { skipEmptyLines: true }).data;
  const { dictionary } = tableFromText(header, rows);
  edit(dictionary);
  for (const entry of dictionary) if (entry.kind !== 'yes/no') delete entry.levels;
  return tableFromText(header, rows, dictionary);
}

/** Reference values of `values/`, computed with general-purpose libraries as each file states. */
// The caller says what the file holds; a wrong word fails its checks.
// eslint-disable-next-line @typescript-eslint/no-unnecessary-type-parameters
export function loadValues<T>(name: string): T {
  return JSON.parse(readFileSync(new URL(`values/${name}.json`, import.meta.url), 'utf8')) as T;
}

/** Column values as numbers: yes/no as 1 and 0. */
export function numbers(table: Table, name: string): Float64Array {
  const column = table.columns[table.dictionary.findIndex((entry) => entry.name === name)];
  if (column.type === 'number') return column.values;
  if (column.type === 'coded') return Float64Array.from(column.codes);
  throw new Error(`${name} is text.`);
}
