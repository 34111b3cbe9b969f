import { areaUnderCurve } from '../../measures/index.ts';
import type { CodedColumn, Column, Table } from '../../table/index.ts';
import type { Finding } from './finding.ts';

/**
 * Columns that alone tell the outcome almost perfectly: more often recorded after the event than a
 * gift. Judged in the given rows only, which must not be held out.
 *
 * @param events 1, 0, or -1 where not known, one a row of the table
 */
export function findAnswers(
  table: Table,
  usable: boolean[],
  events: ArrayLike<number>,
  rows: ArrayLike<number>,
): Finding[] {
  const known = Array.from(rows).filter((row) => events[row] >= 0);
  const total = known.reduce((sum, row) => sum + events[row], 0);
  if (total < 5 || known.length - total < 5) return [];
  return table.columns.flatMap((column, i) => {
    if (!usable[i] || column.type === 'text') return [];
    const name = table.dictionary[i].name;
    const area = areaAlone(column, events, known);
    if (area >= 0.95) return [answer(name, [], { area })];
    return column.type === 'coded' ? tellingLevel(name, column, events, known, total) : [];
  });
}

const answer = (name: string, values: string[], figures: Record<string, number>): Finding => ({
  code: 'gives the answer away',
  columns: [name],
  values,
  figures,
});

/** AUC of the column by itself; levels are put in the order of their event share. */
function areaAlone(column: Column, events: ArrayLike<number>, rows: number[]): number {
  const marker = column.type === 'coded' ? eventShares(column, events, rows) : undefined;
  const values: number[] = [];
  const outcomes: number[] = [];
  for (const row of rows) {
    const value =
      column.type === 'coded'
        ? column.codes[row] < 0
          ? NaN
          : marker![column.codes[row]]
        : (column as { values: Float64Array }).values[row];
    if (Number.isNaN(value)) continue;
    values.push(value);
    outcomes.push(events[row]);
  }
  // Known in few patients, it cannot carry a model, and its figures mean little.
  if (values.length < 0.2 * rows.length) return 0.5;
  const area = areaUnderCurve(values, outcomes)?.value ?? 0.5;
  return Math.max(area, 1 - area);
}

function eventShares(column: CodedColumn, events: ArrayLike<number>, rows: number[]): number[] {
  const { withEvent, all } = countLevels(column, events, rows);
  return all.map((count, level) => (count > 0 ? withEvent[level] / count : 0));
}

/** A level in which nearly everyone has the event, though few have it elsewhere. */
function tellingLevel(
  name: string,
  column: CodedColumn,
  events: ArrayLike<number>,
  rows: number[],
  total: number,
): Finding[] {
  const { withEvent, all } = countLevels(column, events, rows);
  if (total > 0.5 * rows.length) return [];
  return column.levels.flatMap((level, code) => {
    const telling =
      all[code] >= 10 && withEvent[code] >= 0.1 * total && withEvent[code] >= 0.95 * all[code];
    return telling ? [answer(name, [level], { events: withEvent[code], patients: all[code] })] : [];
  });
}

function countLevels(column: CodedColumn, events: ArrayLike<number>, rows: number[]) {
  const withEvent = new Array<number>(column.levels.length).fill(0);
  const all = new Array<number>(column.levels.length).fill(0);
  for (const row of rows) {
    const code = column.codes[row];
    if (code < 0) continue;
    all[code]++;
    withEvent[code] += events[row];
  }
  return { withEvent, all };
}

/**
 * Whether the rows seem sorted by outcome, by the number of runs of equal outcomes: Wald &
 * Wolfowitz (1940), Annals of Mathematical Statistics 11:147-162, normal approximation. Only an
 * outcome that varies far less than chance would (z under -6) is worth a remark.
 */
export function findSorting(events: ArrayLike<number>): Finding[] {
  const test = runsTest(events);
  if (!test || test.z > -6) return [];
  return [
    {
      code: 'sorted by outcome',
      columns: [],
      values: [],
      figures: { runs: test.runs, expected: test.expected },
    },
  ];
}

/** Runs, their expected number and z; undefined when one outcome is missing. -1 is passed over. */
export function runsTest(
  events: ArrayLike<number>,
): { runs: number; expected: number; z: number } | undefined {
  let withEvent = 0;
  let without = 0;
  let runs = 0;
  let last = -1;
  for (let i = 0; i < events.length; i++) {
    if (events[i] < 0) continue;
    if (events[i] === 1) withEvent++;
    else without++;
    if (events[i] !== last) runs++;
    last = events[i];
  }
  const all = withEvent + without;
  if (withEvent === 0 || without === 0 || all < 3) return undefined;
  const expected = (2 * withEvent * without) / all + 1;
  const variance = ((expected - 1) * (expected - 2)) / (all - 1);
  return { runs, expected, z: variance > 0 ? (runs - expected) / Math.sqrt(variance) : 0 };
}
