import { loadTable, numbers } from '../reference/load.ts';

/** Columns of the 77 complete rows of the urine data: Andrews & Herzberg (1985), Data. */
export function completeUrine(): (name: string) => Float64Array {
  const table = loadTable('urine');
  const columns = table.dictionary.map(({ name }) => numbers(table, name));
  const complete = Array.from({ length: table.rowCount }, (_, row) => row).filter((row) =>
    columns.every((column) => !Number.isNaN(column[row]) && column[row] !== -1),
  );
  return (name) => Float64Array.from(complete, (row) => numbers(table, name)[row]);
}
