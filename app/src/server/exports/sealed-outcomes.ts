import { side } from '@rook-scale/core/design';
import { sourcesOf } from '@rook-scale/core/screening';
import { pickRows, type Column, type Table } from '@rook-scale/core/table';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { cohortFingerprint } from '../cohorts/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { divisionOf } from '../division-of.ts';
import { sealedView } from '../sealed.ts';

/**
 * The table without the outcomes of sealed patients, and without what is worked out from them, until they are opened.
 */
export async function withoutSealedOutcomes(cohort: CohortInfo, table: Table): Promise<Table> {
  const design = await currentDesign(cohort.studyId);
  if (cohort.purpose !== 'development' || !design?.divisionId) return table;
  // Rows of a division of other patients would be anybody's: the seal holds for whoever it names.
  if (design.patients !== cohortFingerprint(cohort)) return table;
  const { sides } = await divisionOf(design.divisionId);
  if (!sides.includes(side.sealed) || (await sealedView(cohort.studyId))) return table;
  const { outcome } = design.choices;
  const rows = Int32Array.from(sides, (one, row) => (one === side.sealed ? -1 : row));
  return {
    ...table,
    columns: table.columns.map((column, i) => {
      const { name } = table.dictionary[i];
      const tells = name === outcome || sourcesOf([name], table.dictionary).includes(outcome);
      return tells ? blanked(column, rows) : column;
    }),
  };
}

/** The column with nothing in the rows that are -1. */
function blanked(column: Column, rows: Int32Array): Column {
  const copy = pickRows(
    column,
    rows.map((row) => Math.max(0, row)),
  );
  rows.forEach((row, i) => {
    if (row >= 0) return;
    if (copy.type === 'number') copy.values[i] = NaN;
    else if (copy.type === 'text') copy.values[i] = null;
    else copy.codes[i] = -1;
  });
  return copy;
}
