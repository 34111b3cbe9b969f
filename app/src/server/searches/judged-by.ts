import { caseRule, columnsOfCosts, patientCosts, type Design } from '@rook-scale/core/design';
import type { JudgedBy } from '@rook-scale/core/search';
import { costsOf } from '../candidates/index.ts';
import { loadTable } from '../cohorts/index.ts';
import { currentDesign } from '../design-in-force.ts';
import type { Development } from '../development.ts';
import { judgedKey } from './store.ts';

/**
 * What a search is judged by: costs and cases in force, as long as the design predicts the same column in the same way.
 * Each patient's own costs are of every row of the table.
 */
export async function judgedByInForce(
  studyId: string,
  { design, cohort, outcome }: Pick<Development, 'design' | 'cohort' | 'outcome'>,
): Promise<{ by: JudgedBy; key: string }> {
  const choices = judgedUnder(design, (await currentDesign(studyId))?.choices);
  const names = columnsOfCosts(choices);
  const table = names.length > 0 ? await loadTable(cohort, names) : undefined;
  const rows = Int32Array.from({ length: outcome.values.length }, (_, row) => row);
  const own = table && patientCosts(choices, table, rows);
  const levels = outcome.kind === 'levels' ? { levels: outcome.levels } : {};
  const costs = costsOf(choices, levels);
  return {
    by: { cases: caseRule(choices), costs: own ? { ...costs, own } : costs },
    key: judgedKey(choices),
  };
}

/** The design in force, or where that predicts something else the one that a search was made on. */
export const judgedUnder = (own: Design, inForce: Design | undefined): Design =>
  inForce && inForce.outcome === own.outcome && inForce.kind === own.kind ? inForce : own;
