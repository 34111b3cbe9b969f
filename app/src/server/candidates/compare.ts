import { inArray } from 'drizzle-orm';
import type { Compare, Compared } from '@rook-scale/core/comparing';
import { clustersOf, type PatientCosts } from '@rook-scale/core/measures';
import { caseScores, casesOf } from '@rook-scale/core/outcome';
import { currentDesign } from '../design-in-force.ts';
import { db, tables } from '../ground/database/index.ts';
import { notFound, Problem } from '../ground/problem.ts';
import { onThread } from '../threads/index.ts';
import { casesInForce } from './cases.ts';
import { judge } from './judge.ts';
import { clustersOfPredictions } from './clusters.ts';
import { ownCosts } from './own-costs.ts';
import {
  candidateName,
  candidateRow,
  keptFolds,
  keptPredictions,
  notFitted,
  type CandidateRow,
} from './store.ts';

/** Two candidates on the same patients, the first less the second. */
export async function compareCandidates(
  id: string,
  otherId: string,
  whose: 'out of fold' | 'held out' = 'out of fold',
): Promise<Compared> {
  const { choices, folds, times, events, both, candidates } = await loadBoth(id, otherId, whose);
  const own = await ownCosts(candidates[0], choices, whose);
  const patients = folds.length / times;
  const codes = await clustersOfPredictions(candidates[0], whose);
  return onThread('compare', {
    events,
    folds,
    times,
    both,
    costs: costsOfEach(patients, choices, own),
    seed: choices.seed,
    // Of the patients once, however often they were assigned to folds.
    ...(codes && { clusters: clustersOf(codes.subarray(0, patients)) }),
  });
}

interface Scored {
  scores: Float64Array;
  cutoff: number;
}

/** Scores of two candidates, patient by patient; refused where the patients are not the same. */
export async function loadBoth(
  id: string,
  otherId: string,
  whose: 'out of fold' | 'held out' = 'out of fold',
) {
  const candidates = await Promise.all([candidateRow(id), candidateRow(otherId)]);
  const [one, other] = candidates;
  if (one.studyId !== other.studyId) throw notFound('The candidate to compare with');
  const design = await currentDesign(one.studyId);
  if (!design) throw notFitted();
  const { choices } = design;
  await refuseOthers(one, other);
  const [first, second] = await Promise.all(
    candidates.map(async (candidate): Promise<Scored & { events: ArrayLike<number> }> => {
      const results = await judge(candidate, choices);
      if (!results || !candidate.outcome) throw notFitted();
      const cases = casesInForce(candidate.outcome, choices);
      const { predictions, outcome } = await keptPredictions(candidate.id, whose);
      return {
        scores: caseScores(predictions, cases),
        cutoff: results.cutoff,
        events: casesOf(outcome, cases),
      };
    }),
  );
  const both: [Scored, Scored] = [first, second];
  // Held-out patients are one fold: each is predicted once.
  const { folds, times } =
    whose === 'held out'
      ? { folds: new Uint8Array(first.scores.length), times: 1 }
      : await keptFolds(id);
  // What a case is, and who is asked, is the same for both: the design in force says so.
  const events = Uint8Array.from(first.events).subarray(0, folds.length / times);
  return { candidates, choices, folds, times, events, both };
}

function costsOfEach(
  patients: number,
  costs: { missedCost: number; falseAlarmCost: number },
  own: PatientCosts | undefined,
): Compare['costs'] {
  if (own)
    return {
      missed: Float64Array.from(own.missed.subarray(0, patients)),
      falseAlarm: Float64Array.from(own.falseAlarm.subarray(0, patients)),
    };
  return {
    missed: new Float64Array(patients).fill(costs.missedCost),
    falseAlarm: new Float64Array(patients).fill(costs.falseAlarmCost),
  };
}

/** Patient by patient only those can be compared who were fitted on the same patients, dealt alike. */
export async function refuseOthers(one: CandidateRow, other: CandidateRow): Promise<void> {
  const { design } = tables;
  for (const candidate of [one, other])
    if (candidate.state !== 'fitted' || !candidate.outcome) throw notFitted();
  const rows = await db()
    .select({ id: design.id, divisionId: design.divisionId })
    .from(design)
    .where(inArray(design.id, [one.designId, other.designId]));
  const divisionOf = ({ designId }: CandidateRow) =>
    rows.find(({ id }) => id === designId)?.divisionId;
  const isSame =
    divisionOf(one) === divisionOf(other) &&
    one.outcome!.choice.kind === other.outcome!.choice.kind;
  if (isSame) return;
  throw new Problem(
    409,
    'other-patients',
    `${candidateName(one)} and ${candidateName(other)} were not fitted on the same patients and folds. Fit both again to compare them.`,
  );
}
