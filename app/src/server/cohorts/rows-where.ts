import { FormulaError, columnReferences, rowsWhere } from '@rook-scale/core/formula';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { Problem } from '../ground/problem.ts';
import { loadTable } from './load.ts';

/** The last conditions asked for: a table that is scrolled asks for page after page. */
const kept = new Map<string, Promise<Int32Array>>();
const keptAtMost = 8;

/** The patients in whom a condition holds, as their places in the cohort. */
export function patientsWhere(cohort: CohortInfo, condition: string): Promise<Int32Array> {
  const key = `${cohort.id} ${cohort.version} ${condition}`;
  const known = kept.get(key);
  if (known) return known;
  const found = find(cohort, condition);
  kept.set(key, found);
  found.catch(() => kept.delete(key));
  for (const oldest of kept.keys()) {
    if (kept.size <= keptAtMost) break;
    kept.delete(oldest);
  }
  return found;
}

async function find(cohort: CohortInfo, condition: string): Promise<Int32Array> {
  try {
    const names = columnReferences(condition);
    const { dictionary } = cohort;
    const wanted = dictionary.filter(({ name }) => names.includes(name)).map(({ name }) => name);
    const loaded = await loadTable(cohort, wanted.length > 0 ? wanted : [dictionary[0].name]);
    return rowsWhere(condition, loaded);
  } catch (error) {
    if (error instanceof FormulaError) throw new Problem(422, 'condition', error.message);
    throw error;
  }
}
