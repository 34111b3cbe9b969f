import type { Outcome } from '../../src/outcome/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { loadTable, numbers } from './load.ts';

/** Fisher (1936), Anderson (1935): the species from four measurements. */
export function iris() {
  const table = loadTable('iris');
  const names = ['Sepal.Length', 'Sepal.Width', 'Petal.Length', 'Petal.Width'];
  const species = table.columns[table.dictionary.findIndex(({ name }) => name === 'Species')];
  if (species.type !== 'coded') throw new Error('Species should be a category.');
  const levels = ['setosa', 'versicolor', 'virginica'];
  const values = Int32Array.from(species.codes, (code) => levels.indexOf(species.levels[code]));
  const columns = names.map((name) => numbers(table, name));
  const inputs: Inputs = { rowCount: 150, names, columns };
  const outcome: Outcome<'levels'> = { kind: 'levels', levels, ordered: false, values };
  return { inputs, outcome, names, levels, codes: values };
}

/** Columns of a dataset as inputs, those of patients whom all of them are known of. */
export function columnsOf(name: string, names: string[]): Inputs {
  const table = loadTable(name);
  const columns = names.map((column) => numbers(table, column));
  const rows = [...columns[0].keys()].filter((row) => columns.every((one) => !isNaN(one[row])));
  return {
    rowCount: rows.length,
    names,
    columns: columns.map((column) => Float64Array.from(rows, (row) => column[row])),
  };
}

/** Numbers less their mean, in SDs with divisor n. */
export function standardised(column: Float64Array): Float64Array {
  const mean = column.reduce((sum, one) => sum + one, 0) / column.length;
  const spread = column.reduce((sum, one) => sum + (one - mean) ** 2, 0) / column.length;
  return column.map((one) => (one - mean) / Math.sqrt(spread));
}
