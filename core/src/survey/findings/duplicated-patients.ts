import { isMissing, showValue, type Table } from '../../table/index.ts';
import type { Finding } from './finding.ts';

/**
 * Patients who stand in the table more than once: by identifier, or without one by all values. The
 * figures give the patients concerned, the rows too many, and the first such row (from 1).
 */
export function findDuplicates(table: Table): Finding[] {
  const identifier = table.dictionary.findIndex((entry) => entry.role === 'identifier');
  const seen = new Map<string, number>();
  const twice = new Set<string>();
  let extraRows = 0;
  let firstRow = 0;
  for (let row = 0; row < table.rowCount; row++) {
    const key = identifier < 0 ? allValues(table, row) : valueAt(table, identifier, row);
    if (key === undefined) continue;
    if (!seen.has(key)) {
      seen.set(key, row);
      continue;
    }
    twice.add(key);
    extraRows++;
    if (firstRow === 0) firstRow = row + 1;
  }
  if (extraRows === 0) return [];
  const byIdentifier = identifier >= 0;
  return [
    {
      code: 'duplicated patients',
      columns: byIdentifier ? [table.dictionary[identifier].name] : [],
      values: byIdentifier ? [...twice].slice(0, 3) : [],
      figures: { patients: twice.size, extraRows, firstRow },
    },
  ];
}

function valueAt(table: Table, position: number, row: number): string | undefined {
  const column = table.columns[position];
  return isMissing(column, row) ? undefined : showValue(column, row);
}

function allValues(table: Table, row: number): string {
  return table.columns.map((column) => showValue(column, row)).join('\u001f');
}
