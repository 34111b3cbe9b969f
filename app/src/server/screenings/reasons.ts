import { learnsFromPredictors } from '@rook-scale/core/families';
import { caseScores } from '@rook-scale/core/outcome';
import { pickRows } from '@rook-scale/core/table';
import type { ListReasonsView } from '../../contract/screenings.ts';
import { withModel } from '../candidates/index.ts';
import { cohortFingerprint, loadTable } from '../cohorts/index.ts';
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
  const opened = await openScreening(id);
  const { row, cohort } = opened;
  refuseAnotherList(row, cohort);
  if (!givesReasons(opened))
    throw new Problem(
      409,
      'no-reasons',
      'The candidate was fitted again after this list was scored, or learns from no predictor: there are no reasons for these risks. Score the list again.',
    );
  const reasonsOf = await askReasons(opened);
  return reasonsOf(asIntegers(row.ranking).slice(from, from + count));
}

type Opened = Awaited<ReturnType<typeof openScreening>>;

/** Whether the candidate, as it is now, can give reasons for the scores that are kept. */
const givesReasons = ({ row, candidate }: Opened): boolean =>
  learnsFromPredictors(candidate.family) &&
  candidate.state === 'fitted' &&
  candidate.fittedAt !== null &&
  candidate.fittedAt <= row.createdAt;

/** The same where a file is written, which goes without reasons that cannot be given. */
export async function askReasonsIfAny(opened: Opened) {
  if (!givesReasons(opened)) return undefined;
  try {
    return await askReasons(opened);
  } catch (error) {
    if (error instanceof Problem) return undefined;
    throw error;
  }
}

/** What is asked about some patients of the list, by their places in it. */
async function askReasons({
  row,
  cohort,
}: Opened): Promise<(places: Int32Array) => Promise<ListReasonsView>> {
  const { task, ground } = await ready(row.candidateId);
  const scores = caseScores(predictionsIn(row), row.cases);
  const whole = await loadTable(cohort);
  return async (places) => {
    const rows = places.filter((place) => !Number.isNaN(scores[place]));
    if (rows.length === 0 || ground.names.length === 0)
      return { isDrawn: false, patients: Array.from(places, () => []) };
    const columns = whole.columns.map((column) => pickRows(column, rows));
    const asked = {
      ...{ ...task, cases: row.cases, matching: row.matching, seed: ground.design.seed },
      patients: cohortFingerprint(ground.cohort),
      table: { ...whole, rowCount: rows.length, columns },
    };
    const { way, patients, certain } = await withModel(row.candidateId, (brought) =>
      onThread('reasons in a list', { ...asked, ...brought }),
    );
    const placeOf = new Map(Array.from(rows, (place, i) => [place, i]));
    return {
      isDrawn: way === 'drawn',
      patients: Array.from(places, (place) => patients[placeOf.get(place) ?? -1] ?? []),
      ...(certain && {
        certain: Array.from(places, (place) => certain[placeOf.get(place) ?? -1] ?? true),
      }),
    };
  };
}
