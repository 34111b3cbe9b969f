import { and, eq, isNull } from 'drizzle-orm';
import type { Design } from '@rook-scale/core/design';
import { clustersOf, judgeOutOfFold, type CrossValidated } from '@rook-scale/core/measures';
import { currentDesign } from '../design-in-force.ts';
import { db, tables } from '../ground/database/index.ts';
import { casesInForce, costsOf } from './cases.ts';
import { clustersOfPredictions } from './clusters.ts';
import { ownCosts } from './own-costs.ts';
import { keptFolds, keptPredictions, notFitted, type CandidateRow } from './store.ts';

const judged = new Map<string, CrossValidated>();

/**
 * What the figures of a line depend on.
 *
 * @param own whether each patient's own costs are in them
 */
export function resultsKey(
  { fittedAt, cutoffRule, outcome }: Pick<CandidateRow, 'fittedAt' | 'cutoffRule' | 'outcome'>,
  design: Design,
  own: boolean,
  clusters: boolean,
): string {
  const cases = outcome && casesInForce(outcome, design);
  return JSON.stringify([
    fittedAt?.getTime(),
    cutoffRule,
    design.missedCost,
    design.falseAlarmCost,
    // Yes/no outcomes have the key that they had before there were others.
    ...(cases && cases.kind !== 'event' ? [cases] : []),
    ...(outcome?.levels && design.levelCosts ? [design.levelCosts] : []),
    ...(own ? [{ own: design.ownCosts }] : []),
    ...(clusters ? ['by cluster'] : []),
  ]);
}

/** Out-of-fold results: as they were kept, or else worked out and remembered. */
export async function judge(
  candidate: CandidateRow,
  design: Design,
): Promise<CrossValidated | undefined> {
  return (await judgedUnder(candidate, design)).value;
}

/** The results with the key of what they depend on; none where nothing is fitted yet. */
async function judgedUnder(
  candidate: CandidateRow,
  design: Design,
): Promise<{ key: string; value?: CrossValidated }> {
  const own = await ownCosts(candidate, design, 'out of fold');
  const clusters = await clustersOfPredictions(candidate, 'out of fold');
  const key = resultsKey(candidate, design, own !== undefined, clusters !== undefined);
  if (candidate.results?.key === key) return candidate.results;
  const place = `${candidate.id} ${key}`;
  const known = judged.get(place);
  if (known) return { key, value: known };
  if (!candidate.outcome) return { key };
  const [predictions, { folds, times }] = await Promise.all([
    keptPredictions(candidate.id, 'out of fold'),
    keptFolds(candidate.id),
  ]);
  const cases = casesInForce(candidate.outcome, design);
  const costs = { ...costsOf(design, candidate.outcome), own };
  const result = judgeOutOfFold(
    predictions,
    cases,
    folds,
    candidate.cutoffRule,
    costs,
    times,
    clusters && clustersOf(clusters),
  );
  if (judged.size > 500) judged.clear();
  judged.set(place, result);
  return { key, value: result };
}

/** Keeps the figures of every candidate of a study under the costs in force, so that lists need only read them. */
export async function keepResults(studyId: string): Promise<void> {
  const design = await currentDesign(studyId);
  if (!design) return;
  const rows = await db()
    .select()
    .from(tables.candidate)
    .where(and(eq(tables.candidate.studyId, studyId), isNull(tables.candidate.deletedAt)));
  for (const candidate of rows) {
    if (!candidate.fittedAt) continue;
    const { key, value } = await judgedUnder(candidate, design.choices);
    if (value && candidate.results?.key !== key)
      await db()
        .update(tables.candidate)
        .set({ results: { key, value } })
        .where(eq(tables.candidate.id, candidate.id));
  }
}

/** The cutoff that the candidate's rule gives on its out-of-fold predictions. */
export async function candidateCutoff(candidate: CandidateRow): Promise<number> {
  const design = await currentDesign(candidate.studyId);
  const results = design && (await judge(candidate, design.choices));
  if (!results) throw notFitted();
  return results.cutoff;
}
