import { and, asc, eq, isNotNull } from 'drizzle-orm';
import { inTurns } from '@rook-scale/core/design';
import { takeOutcome } from '@rook-scale/core/outcome';
import { ofSome, type Corrected } from '@rook-scale/core/search';
import { loadDevelopment } from '../development.ts';
import { db, tables } from '../ground/database/index.ts';
import { onThread } from '../threads/index.ts';
import { placesOf, type KeptPiece } from './collect.ts';
import { judgedByInForce } from './judged-by.ts';
import { ofFolds } from './pieces.ts';
import { measureFor, searchRow } from './store.ts';

const known = new Map<string, Corrected | null>();

/** What the best of a search comes to when it is not judged by the patients it was chosen by. */
export async function correctedChoice(id: string, measureId: string): Promise<Corrected | null> {
  const row = await searchRow(id);
  if (!row.shares || row.round < row.shares.length - 1) return null;
  const ground = await loadDevelopment({ ...row, settings: row.plan.fixed });
  const measure = measureFor(ground.outcome.kind, measureId);
  const { by, key } = await judgedByInForce(row.studyId, ground);
  const place = `${id} ${row.run} ${row.workDone} ${key} ${measure.id}`;
  const before = known.get(place);
  if (before !== undefined) return before;
  const { searchPiece } = tables;
  const pieces = await db()
    .select({
      part: searchPiece.part,
      trials: searchPiece.trials,
      header: searchPiece.header,
      values: searchPiece.values,
    })
    .from(searchPiece)
    .where(
      and(
        eq(searchPiece.searchId, id),
        eq(searchPiece.round, row.round),
        isNotNull(searchPiece.values),
        ofFolds,
      ),
    )
    .orderBy(asc(searchPiece.number));
  const { developmentRows, folds, outcome, design } = ground;
  const times = folds.length / developmentRows.length;
  const rows = inTurns(developmentRows, times);
  const corrected =
    pieces.length === 0
      ? null
      : await onThread('correct', {
          outcome: takeOutcome(outcome, rows),
          pieces: pieces as KeptPiece[],
          places: placesOf(folds),
          folds,
          times,
          by: ofSome(by, rows),
          measure: measure.id,
          seed: design.seed,
        });
  if (known.size > 200) known.clear();
  known.set(place, corrected);
  return corrected;
}
