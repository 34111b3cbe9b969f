import type { CodedColumn, NumberColumn, Table } from '../../table/index.ts';
import { correlation, midRanks } from '../associate/index.ts';
import type { Finding } from './finding.ts';

/** Correlation of ranks from which two numbers count as nearly the same. */
const alike = 0.95;
/** Rows that decide it: more would only cost time. */
const rowsUsed = 20_000;

/** Pairs of columns that say nearly the same: one of the two is enough for a model. */
export function findLookAlikes(table: Table, usable: boolean[]): Finding[] {
  const step = Math.max(1, Math.ceil(table.rowCount / rowsUsed));
  return [...alikeNumbers(table, usable, step), ...alikeLevels(table, usable, step)];
}

function alikeNumbers(table: Table, usable: boolean[], step: number): Finding[] {
  const ranked = table.columns.flatMap((column, i) =>
    column.type === 'number' && usable[i]
      ? [{ name: table.dictionary[i].name, ranks: midRanks(everyStep(column, step)) }]
      : [],
  );
  const found: Finding[] = [];
  for (let i = 0; i < ranked.length; i++)
    for (let j = i + 1; j < ranked.length; j++) {
      const rho = correlation(ranked[i].ranks, ranked[j].ranks);
      if (Math.abs(rho) >= alike)
        found.push({
          code: 'near-duplicates',
          columns: [ranked[i].name, ranked[j].name],
          values: [],
          figures: { correlation: rho },
        });
    }
  return found;
}

function everyStep(column: NumberColumn, step: number): Float64Array {
  const count = Math.floor((column.values.length + step - 1) / step);
  return Float64Array.from({ length: count }, (_, i) => column.values[i * step]);
}

function alikeLevels(table: Table, usable: boolean[], step: number): Finding[] {
  const coded = table.columns.flatMap((column, i) =>
    column.type === 'coded' && usable[i] && column.levels.length <= 30
      ? [{ name: table.dictionary[i].name, column }]
      : [],
  );
  const found: Finding[] = [];
  for (let i = 0; i < coded.length; i++)
    for (let j = i + 1; j < coded.length; j++) {
      const agreement = shareFollowed(coded[i].column, coded[j].column, step);
      const back = shareFollowed(coded[j].column, coded[i].column, step);
      if (Math.min(agreement, back) >= 0.98)
        found.push({
          code: 'near-duplicates',
          columns: [coded[i].name, coded[j].name],
          values: [],
          figures: { agreement: Math.min(agreement, back) },
        });
    }
  return found;
}

/**
 * Share of rows in which `b` is what it mostly is under the level of `a`; 0 where `b` hardly
 * varies, because then any column would seem to tell it.
 */
function shareFollowed(a: CodedColumn, b: CodedColumn, step: number): number {
  const width = b.levels.length;
  const counts = new Float64Array(a.levels.length * width);
  const totals = new Float64Array(width);
  let rows = 0;
  for (let row = 0; row < a.codes.length; row += step) {
    const [codeA, codeB] = [a.codes[row], b.codes[row]];
    if (codeA < 0 || codeB < 0) continue;
    counts[codeA * width + codeB]++;
    totals[codeB]++;
    rows++;
  }
  if (rows < 20 || Math.max(...totals) > 0.95 * rows) return 0;
  let followed = 0;
  for (let level = 0; level < a.levels.length; level++)
    followed += Math.max(0, ...counts.subarray(level * width, (level + 1) * width));
  return followed / rows;
}
