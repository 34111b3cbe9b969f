import { isMissing, showValue, type Table } from '../table/index.ts';

/**
 * One key a row that says who the patient is, whatever the order of the rows: the identifier when
 * there is one (rows with the same identifier share a key and stay together), else all the row's
 * values, with a running number for rows alike in everything.
 *
 * @param identifier position of the identifier column, or -1
 */
export function patientKeys(table: Table, identifier: number): string[] {
  // How many patients a row stands for says nothing of any of them.
  const columns = table.columns.filter((_, i) => table.dictionary[i].role !== 'number of patients');
  const keys: string[] = [];
  const copies = new Map<string, number>();
  for (let row = 0; row < table.rowCount; row++) {
    const known = identifier >= 0 && !isMissing(table.columns[identifier], row);
    if (known) {
      keys.push(`id:${showValue(table.columns[identifier], row)}`);
      continue;
    }
    const content = columns.map((column) => showValue(column, row)).join('\u001f');
    const copy = (copies.get(content) ?? 0) + 1;
    copies.set(content, copy);
    keys.push(`row:${content}\u001f${copy}`);
  }
  return keys;
}
