import type { Curves } from '@rook-scale/core/comparing';
import { nobodyOf } from '@rook-scale/core/measures';
import { caseScores, casesOf } from '@rook-scale/core/outcome';
import { currentDesign } from '../design-in-force.ts';
import { onThread } from '../threads/index.ts';
import { casesInForce, costsOf } from './cases.ts';
import { ownCosts } from './own-costs.ts';
import { candidateRow, keptFolds, keptPredictions, notFitted } from './store.ts';

/** What a candidate is drawn by beside others. */
export async function candidateCurves(
  id: string,
  whose: 'out of fold' | 'held out' = 'out of fold',
): Promise<Curves> {
  const candidate = await candidateRow(id);
  const design = await currentDesign(candidate.studyId);
  if (!design || !candidate.outcome || !candidate.fittedAt) throw notFitted();
  const { choices } = design;
  const [own, times, { predictions, outcome }] = await Promise.all([
    ownCosts(candidate, choices, whose),
    whose === 'held out' ? 1 : keptFolds(id).then((kept) => kept.times),
    keptPredictions(id, whose),
  ]);
  const cases = casesInForce(candidate.outcome, choices);
  const scores = caseScores(predictions, cases);
  const isShare = outcome.kind !== 'number';
  const [from, to] = isShare ? [0, 1] : rangeOf(scores);
  return onThread('curves', {
    scores,
    events: Uint8Array.from(casesOf(outcome, cases)),
    times,
    costs: { ...costsOf(choices, candidate.outcome), ...(own && { own }) },
    nobody: nobodyOf(outcome.kind),
    isShare,
    from,
    to,
  });
}

function rangeOf(scores: Float64Array): [number, number] {
  const [least, most] = scores.reduce(
    ([least, most], score) => [Math.min(least, score), Math.max(most, score)],
    [Infinity, -Infinity],
  );
  return most > least ? [least, most] : [least - 1, least + 1];
}
