import type { Table } from '../../table/index.ts';
import type { Finding } from './finding.ts';

/** Names that columns of counts have in tables in which a row stands for several patients. */
const countNames =
  /^(n|no|nr|num|number|count|freq|frequency|weight)?[ _.]*(of[ _.]*)?(cases?|controls?|events?|nonevents?|patients?|subjects?|persons?|deaths?|n|count|freq|frequency|weights?|total)$/;

/**
 * Whether a table seems to be grouped: columns of whole numbers are named like counts, and what is
 * left is a few categories of which every combination stands in one row. Its rows are no patients.
 */
export function findCountedRows(table: Table): Finding[] {
  const counts: number[] = [];
  const groups: number[] = [];
  table.columns.forEach((column, i) => {
    const { name, role } = table.dictionary[i];
    if (column.type === 'number' && countNames.test(name.toLowerCase()) && areCounts(column.values))
      counts.push(i);
    else if (role !== 'identifier') groups.push(i);
  });
  if (counts.length === 0 || groups.length === 0 || table.rowCount < 4) return [];
  const coded = groups.map((i) => table.columns[i]);
  if (!coded.every((column) => column.type === 'coded')) return [];
  const seen = new Set<string>();
  for (let row = 0; row < table.rowCount; row++)
    seen.add(coded.map(({ codes }) => codes[row]).join(' '));
  // Of patients, most combinations of a few categories come again and again.
  if (seen.size < 0.9 * table.rowCount) return [];
  let patients = 0;
  for (const i of counts) {
    const column = table.columns[i];
    if (column.type === 'number')
      for (const value of column.values) if (!Number.isNaN(value)) patients += value;
  }
  return [
    {
      code: 'counted rows',
      columns: counts.map((i) => table.dictionary[i].name),
      values: [],
      figures: { rows: table.rowCount, patients },
    },
  ];
}

function areCounts(values: Float64Array): boolean {
  let most = 0;
  for (const value of values) {
    if (Number.isNaN(value)) continue;
    if (value < 0 || !Number.isInteger(value)) return false;
    most = Math.max(most, value);
  }
  return most > 1;
}
