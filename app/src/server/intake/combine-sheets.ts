import Papa from 'papaparse';
import { readNumber } from '@rook-scale/core/table';
import type { Combination, Remark } from '../../contract/uploads.ts';
import { Problem } from '../ground/problem.ts';

/** A table of text, as its file holds it. */
export interface Sheet {
  fileName: string;
  names: string[];
  rows: string[][];
}

/** Two tables as one, with a remark that says what matched. */
export function combineSheets(
  first: Sheet,
  second: Sheet,
  wanted: Combination,
): { sheet: Sheet; remark: Remark } {
  if (wanted.how === 'append') return append(first, second);
  return wanted.how === 'below' ? below(first, second, wanted) : join(first, second, wanted);
}

/** A table as CSV in UTF-8, some thousand rows a piece. */
export function* asCsv({ names, rows }: Sheet): Generator<Uint8Array, undefined> {
  const encoder = new TextEncoder();
  yield encoder.encode(`${Papa.unparse([names], { newline: '\n' })}\n`);
  for (let from = 0; from < rows.length; from += 5000)
    yield encoder.encode(`${Papa.unparse(rows.slice(from, from + 5000), { newline: '\n' })}\n`);
}

function append(first: Sheet, second: Sheet): { sheet: Sheet; remark: Remark } {
  const added = second.names.filter((name) => !first.names.includes(name));
  const lacking = first.names.filter((name) => !second.names.includes(name));
  if (added.length === second.names.length)
    throw new Problem(
      422,
      'nothing-in-common',
      `${second.fileName} has no column in common with ${first.fileName}, so its patients cannot stand below. Columns are matched by name.`,
    );
  const names = [...first.names, ...added];
  const place = names.map((name) => second.names.indexOf(name));
  const rows = [...first.rows, ...second.rows.map((cells) => place.map((i) => cells[i] ?? ''))];
  const differences = [
    lacking.length > 0 && `${list(lacking)} only in ${first.fileName}`,
    added.length > 0 && `${list(added)} only in ${second.fileName}`,
  ].filter(Boolean);
  return {
    sheet: { fileName: together(first, second), names, rows },
    remark: {
      code: 'combined',
      title: 'Two files, one below the other',
      sentence: `${first.rows.length} rows and ${second.rows.length} rows. ${differences.length === 0 ? 'Both have the same columns.' : `${differences.join('; ')}: not known for the others.`}`,
    },
  };
}

function below(
  first: Sheet,
  second: Sheet,
  { columns }: Extract<Combination, { how: 'below' }>,
): { sheet: Sheet; remark: Remark } {
  const place = first.names.map((name) =>
    Object.hasOwn(columns, name) ? placeOf(second, columns[name]) : -1,
  );
  const rows = [...first.rows, ...second.rows.map((cells) => place.map((i) => cells[i] ?? ''))];
  const known = place.filter((i) => i >= 0).length;
  return {
    sheet: { fileName: together(first, second), names: first.names, rows },
    remark: {
      code: 'combined',
      title: 'A second file below the first',
      sentence: `${first.rows.length} rows and ${second.rows.length} rows, of which ${known} of ${place.length} columns are known.`,
    },
  };
}

function join(
  first: Sheet,
  second: Sheet,
  { on, onSecond, several }: Extract<Combination, { how: 'join' }>,
): { sheet: Sheet; remark: Remark } {
  const key = placeOf(first, on);
  const otherKey = placeOf(second, onSecond);
  const others = second.names.map((_, i) => i).filter((i) => i !== otherKey);
  const byKey = new Map<string, string[][]>();
  for (const cells of second.rows) {
    const value = (cells[otherKey] ?? '').trim();
    if (value === '') continue;
    const found = byKey.get(value);
    if (found) found.push(cells);
    else byKey.set(value, [cells]);
  }
  const repeated = [...byKey].filter(([, rows]) => rows.length > 1);
  if (several === 'refuse' && repeated.length > 0)
    throw new Problem(
      422,
      'not-one-to-one',
      `${patientsStand(repeated.length)} more than once in ${second.fileName}, such as ${repeated[0][0]}. Take the first, the last or the mean of their rows.`,
    );
  const used = new Set<string>();
  const rows = first.rows.map((cells) => {
    const value = (cells[key] ?? '').trim();
    const found = byKey.get(value);
    if (found) used.add(value);
    const own = first.names.map((_, i) => cells[i] ?? '');
    return [...own, ...others.map((i) => (found ? oneOf(found, i, several) : ''))];
  });
  const taken = new Set(first.names);
  const names = [
    ...first.names,
    ...others.map((i) => {
      const name = second.names[i];
      return taken.has(name) ? `${name} (${second.fileName.replace(/\.[^.]+$/, '')})` : name;
    }),
  ];
  const matched =
    rows.length - first.rows.filter((cells) => !byKey.has((cells[key] ?? '').trim())).length;
  const unused = byKey.size - used.size;
  return {
    sheet: { fileName: together(first, second), names, rows },
    remark: {
      code: 'combined',
      title: 'Two files, patient by patient',
      sentence: `${matched} of ${rows.length} rows of ${first.fileName} have a match in ${second.fileName}${unused > 0 ? `; ${unused === 1 ? '1 patient there is' : `${unused} patients there are`} in nobody’s row and left out` : ''}.${repeated.length > 0 ? ` Of ${repeated.length} ${repeated.length === 1 ? 'patient' : 'patients'} with several rows the ${several} is taken.` : ''}`,
    },
  };
}

const patientsStand = (count: number) =>
  count === 1 ? '1 patient stands' : `${count} patients stand`;

function oneOf(
  rows: string[][],
  place: number,
  several: 'refuse' | 'first' | 'last' | 'mean',
): string {
  const cells = rows.map((row) => row[place] ?? '');
  const known = cells.filter((cell) => cell.trim() !== '');
  if (several === 'last') return known.at(-1) ?? '';
  if (several !== 'mean' || known.length < 2) return known[0] ?? '';
  const numbers = known.map((cell) => readNumber(cell.trim()));
  if (numbers.some(Number.isNaN)) return known[0];
  return String(numbers.reduce((sum, value) => sum + value, 0) / numbers.length);
}

function placeOf({ names, fileName }: Sheet, name: string): number {
  const place = names.indexOf(name);
  if (place >= 0) return place;
  throw new Problem(422, 'column-absent', `${fileName} has no column "${name}".`);
}

const together = (first: Sheet, second: Sheet) =>
  `${first.fileName} + ${second.fileName}`.slice(0, 300);

function list(names: string[]): string {
  const shown = names.slice(0, 6).join(', ');
  return names.length > 6 ? `${shown} and ${names.length - 6} more` : shown;
}
