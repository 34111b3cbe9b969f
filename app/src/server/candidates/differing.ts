import { rowsOn, side } from '@rook-scale/core/design';
import type { DifferingShown } from '../../contract/candidates.ts';
import { loadTable, namesOfRows } from '../cohorts/index.ts';
import { dividedPatients } from '../divided-patients.ts';
import { onThread } from '../threads/index.ts';
import { loadBoth } from './compare.ts';

/** The development patients whom only one of two candidates calls in, out of fold. */
export async function differingPatients(id: string, otherId: string): Promise<DifferingShown> {
  const { candidates, choices, times, events, both } = await loadBoth(id, otherId);
  const { cohort, sides } = await dividedPatients(
    candidates[0].designId,
    'The patients have changed since these candidates were fitted. Fit them again to list who differs.',
  );
  const names = choices.predictors;
  const table = await loadTable(cohort, names);
  const told = await onThread('differing', {
    table,
    names,
    rows: rowsOn(sides, side.development),
    events,
    both: [meanOfTimes(both[0], times), meanOfTimes(both[1], times)],
  });
  const nameOf = await namesOfRows(cohort);
  return {
    ...told,
    cohort: cohort.id,
    patients: told.patients.map((patient) => ({
      ...patient,
      name: nameOf(patient.row),
    })),
  };
}

/** One score a patient: of those predicted several times the mean. */
function meanOfTimes(
  { scores, cutoff }: { scores: Float64Array; cutoff: number },
  times: number,
): { scores: Float64Array; cutoff: number } {
  if (times === 1) return { scores, cutoff };
  const length = scores.length / times;
  const means = new Float64Array(length);
  scores.forEach((score, i) => (means[i % length] += score / times));
  return { scores: means, cutoff };
}
