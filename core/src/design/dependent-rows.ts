import type { Table } from '../table/index.ts';
import { wordsOf } from './columns.ts';
import type { Design } from './design.ts';
import { patientsIn } from './divide.ts';
import { patientsOf } from './patients.ts';
import { settleGroups } from './moving.ts';
import { unitsOf } from './units.ts';

/** With fewer groups, differences between them cannot be estimated (common practice: 20 to 50 clusters). */
const fewestGroups = 20;

/** Columns that say which rows belong together: the identifier, and what split or folds keep together. */
export function columnsOfDependence(
  { dictionary }: Pick<Table, 'dictionary'>,
  { split, folds }: Pick<Design, 'split' | 'folds'>,
): { identifiers: string[]; groupings: string[] } {
  const grouped = [split, folds].flatMap((choice) =>
    'column' in choice && choice.way === 'by group' ? [choice.column] : [],
  );
  const known = (name: string) => dictionary.some((entry) => entry.name === name);
  return {
    identifiers: dictionary.flatMap(({ name, role }) => (role === 'identifier' ? [name] : [])),
    groupings: [...new Set(grouped)].filter(known),
  };
}

/**
 * Cluster of each row: rows of one patient share it, and rows of one group where a grouping has at least 20
 * groups; a patient of several groups counts to the most frequent one. Undefined where no patient and no group has two rows.
 *
 * @param table with the identifier and the columns of `groupings`
 * @example identifiers A, B, A: clusters 0, 1, 0
 */
export function dependentRows(table: Table, groupings: string[]): Int32Array | undefined {
  const hasIdentifier = table.dictionary.some(({ role }) => role === 'identifier');
  let patients = hasIdentifier
    ? patientsIn(table)
    : patientsOf(Array.from({ length: table.rowCount }, (_, row) => String(row)));
  for (const name of groupings) {
    const groups = wordsOf(table, name);
    if (new Set(groups.filter((group) => group !== '')).size < fewestGroups) continue;
    // A patient of several groups would make all of these one cluster.
    const settled = settleGroups(patients, groups, 'most frequent');
    patients = { ...unitsOf(patients, settled), orders: new Map() };
  }
  return patients.keys.length < table.rowCount ? patients.ofRow : undefined;
}
