import { rowsWhere } from '../formula/index.ts';
import { isMissing, showValue, type Table } from '../table/index.ts';
import type { Flow, Selection } from './selection.ts';

/**
 * The rows that stay, ascending, and how many went at each step: first the duplicates, then one
 * exclusion after the other; a row that goes at one step is not counted at a later one. Throws a
 * FormulaError when a condition cannot be understood.
 */
export function selectRows(table: Table, selection: Selection): { rows: Int32Array; flow: Flow } {
  let rows = Int32Array.from({ length: table.rowCount }, (_, row) => row);
  const flow: Flow = { came: table.rowCount, steps: [] };
  const take = (why: string, out: Set<number>) => {
    const left = rows.filter((row) => !out.has(row));
    flow.steps.push({ why, out: rows.length - left.length, left: left.length });
    rows = left;
  };
  const { duplicates, exclusions } = selection;
  if (duplicates) take(sayDuplicates(duplicates), duplicateRows(table, duplicates));
  for (const { condition, reason } of exclusions)
    take(reason, new Set(rowsWhere(condition, table)));
  return { rows, flow };
}

type Duplicates = NonNullable<Selection['duplicates']>;

function sayDuplicates({ by, keep }: Duplicates): string {
  const what = by === 'identifier' ? 'same identifier' : 'same in all values';
  return keep === 'none' ? `duplicates (${what}), none kept` : `duplicates (${what}), ${keep} kept`;
}

/** The rows that go. A row whose identifier is not known is nobody's duplicate. */
function duplicateRows(table: Table, { by, keep }: Duplicates): Set<number> {
  const groups = new Map<string, number[]>();
  const place =
    by === 'identifier' ? table.dictionary.findIndex(({ role }) => role === 'identifier') : -1;
  for (let row = 0; row < table.rowCount; row++) {
    const key = by === 'identifier' ? keyAt(table, place, row) : allValues(table, row);
    if (key === undefined) continue;
    const group = groups.get(key);
    if (group) group.push(row);
    else groups.set(key, [row]);
  }
  const out = new Set<number>();
  for (const group of groups.values()) {
    if (group.length < 2) continue;
    const stays = keep === 'first' ? group[0] : keep === 'last' ? group.at(-1) : undefined;
    for (const row of group) if (row !== stays) out.add(row);
  }
  return out;
}

function keyAt(table: Table, place: number, row: number): string | undefined {
  const column = place < 0 ? undefined : table.columns[place];
  return !column || isMissing(column, row) ? undefined : showValue(column, row);
}

function allValues(table: Table, row: number): string {
  return table.columns.map((column) => showValue(column, row)).join('\u001f');
}
