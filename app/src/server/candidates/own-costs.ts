import { columnsOfCosts, patientCosts, type Design } from '@rook-scale/core/design';
import type { PatientCosts } from '@rook-scale/core/measures';
import { loadTable } from '../cohorts/index.ts';
import { fitDivision } from './fit-division.ts';
import type { CandidateRow, Whose } from './store.ts';

/**
 * What errors cost each of the patients that a candidate's predictions are of; undefined where the
 * design names no column, and where they are other patients than the cohort has now.
 */
export async function ownCosts(
  candidate: CandidateRow,
  design: Design,
  whose: Whose,
): Promise<PatientCosts | undefined> {
  const names = columnsOfCosts(design);
  if (names.length === 0) return undefined;
  const division = await fitDivision(candidate);
  if (!division) return undefined;
  return patientCosts(design, await loadTable(division.cohort, names), division.rows(whose));
}
