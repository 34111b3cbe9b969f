import { side } from '@rook-scale/core/design';
import { and, asc, eq, isNull } from 'drizzle-orm';
import { familyOf, type Facet } from '@rook-scale/core/families';
import type { Judged } from '@rook-scale/core/measures';
import { unpackOutcome, unpackPredictions } from '@rook-scale/core/outcome';
import { unpackModel, type Model } from '@rook-scale/core/model';
import { db, tables } from '../ground/database/index.ts';
import { notFound, Problem } from '../ground/problem.ts';

/** A candidate without its model and predictions: all that a line needs. */
export type CandidateRow = typeof tables.candidate.$inferSelect;

/** Whose predictions. The held-out ones leave the server only in answer to a counted look. */
export type Whose = typeof tables.prediction.$inferSelect.whose;

export const sideOf: { [W in Whose]: number } = {
  'out of fold': side.development,
  'held out': side.heldOut,
  sealed: side.sealed,
};

/** Names as the interface shows them: the analyst's, or the family, numbered where it is not the reference. */
export function candidateName({
  title,
  family,
  number,
}: Pick<CandidateRow, 'title' | 'family' | 'number'>): string {
  const { id, name } = familyOf(family).description;
  return title ?? (id === 'reference' ? name : `${name} ${number}`);
}

export async function candidateRow(id: string): Promise<CandidateRow> {
  const [found] = await db()
    .select()
    .from(tables.candidate)
    .where(and(eq(tables.candidate.id, id), isNull(tables.candidate.deletedAt)));
  if (!found) throw notFound('The candidate');
  return found;
}

/** A fitted candidate with its model; an error says so when there is none yet. */
export async function fittedCandidate(id: string): Promise<CandidateRow & { model: Model }> {
  const candidate = await candidateRow(id);
  const [fit] = await db()
    .select({ json: tables.fit.model, bytes: tables.fit.arrays })
    .from(tables.fit)
    .where(eq(tables.fit.candidateId, id));
  if (!fit) throw notFitted();
  return { ...candidate, model: unpackModel(fit) };
}

/** Predictions of a fit beside what happened; an error says so when there are none yet. */
export async function keptPredictions(id: string, whose: Whose): Promise<Judged> {
  const { prediction } = tables;
  const [found] = await db()
    .select()
    .from(prediction)
    .where(and(eq(prediction.candidateId, id), eq(prediction.whose, whose)));
  if (!found) throw notFitted();
  const { header } = found;
  return {
    predictions: unpackPredictions({ header, bytes: found.values }),
    outcome: unpackOutcome({ header, bytes: found.outcome }),
  };
}

/** Fold of each development patient of a fit, for each of the times that they were dealt. */
export async function keptFolds(id: string): Promise<{ folds: Uint8Array; times: number }> {
  const [found] = await db()
    .select({ folds: tables.fit.folds, times: tables.fit.times })
    .from(tables.fit)
    .where(eq(tables.fit.candidateId, id));
  if (!found) throw notFitted();
  return found;
}

/** What the fitted model shows of itself, as it was kept with it. */
export async function keptFacets(id: string, { family }: Model): Promise<Facet[]> {
  const rows = await db()
    .select({ facet: tables.fitFacet.facet })
    .from(tables.fitFacet)
    .where(eq(tables.fitFacet.candidateId, id))
    .orderBy(asc(tables.fitFacet.position));
  if (rows.length > 0) return rows.map(({ facet }) => facet);
  // Fits from before facets were kept.
  return familyOf(family.id).recall?.(family.saved) ?? [];
}

export const notFitted = () =>
  new Problem(
    409,
    'not-fitted',
    'This candidate has not been fitted yet. Fit it in Candidates first.',
  );
