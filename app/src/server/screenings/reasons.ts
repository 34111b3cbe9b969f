import { caseScores } from '@rook-scale/core/outcome';
import { pickRows } from '@rook-scale/core/table';
import type { ListReasonsView } from '../../contract/screenings.ts';
import { withModel } from '../candidates/index.ts';
import { loadTable } from '../cohorts/index.ts';
import { asIntegers } from '../files/index.ts';
import { Problem } from '../ground/problem.ts';
import { ready } from '../reasons/index.ts';
import { onThread } from '../threads/index.ts';
import { openScreening, predictionsIn, refuseAnotherList } from './view.ts';

/** The strongest reasons for what is said of lines `from` … of the call-in list. */
export async function screenedReasons(
  id: string,
  from: number,
  count: number,
): Promise<ListReasonsView> {
  const { row, cohort, candidate } = await openScreening(id);
  refuseAnotherList(row, cohort);
  if (candidate.fittedAt && candidate.fittedAt > row.createdAt)
    throw new Problem(
      409,
      'fit-changed',
      'The candidate was fitted again after this list was scored: it would give reasons for other risks. Score the list again.',
    );
  const { task, ground } = await ready(row.candidateId);
  const places = asIntegers(row.ranking).slice(from, from + count);
  const scores = caseScores(predictionsIn(row), row.cases);
  const rows = places.filter((place) => !Number.isNaN(scores[place]));
  if (rows.length === 0 || ground.names.length === 0)
    return { scale: 'said', isDrawn: false, patients: Array.from(places, () => []) };
  const whole = await loadTable(cohort);
  const table = {
    ...whole,
    rowCount: rows.length,
    columns: whole.columns.map((column) => pickRows(column, rows)),
  };
  const asked = { ...task, cases: row.cases, table, matching: row.matching };
  const { scale, way, patients } = await withModel(row.candidateId, (brought) =>
    onThread('reasons in a list', { ...asked, seed: ground.design.seed, ...brought }),
  );
  let next = 0;
  return {
    scale,
    isDrawn: way === 'drawn',
    patients: Array.from(places, (place) => (Number.isNaN(scores[place]) ? [] : patients[next++])),
  };
}
