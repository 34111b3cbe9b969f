import { and, asc, count, eq, isNotNull, sql } from 'drizzle-orm';
import { repeatsOf, type Design } from '@rook-scale/core/design';
import { takeOutcome } from '@rook-scale/core/outcome';
import { ofSome } from '@rook-scale/core/search';
import type { NestedShown, Nesting } from '../../contract/searches.ts';
import { readyDesign } from '../candidates/index.ts';
import { loadDevelopment } from '../development.ts';
import { atOnce, db, inTurn, tables } from '../ground/database/index.ts';
import { Problem } from '../ground/problem.ts';
import { onThread } from '../threads/index.ts';
import { wait } from './change.ts';
import { placesOf, type KeptPiece } from './collect.ts';
import { judgedByInForce } from './judged-by.ts';
import { isCurrent } from './lines.ts';
import { pairsOfFolds } from './pairs.ts';
import { addPieces, ofFolds } from './pieces.ts';
import { designOf, foldsOf, measureFor, searchRow, trialsOf, type SearchRow } from './store.ts';

const { searchPiece } = tables;

/** Predictions that are looked at in all at most. */
const mostLooked = 40e6;

/** Has the choice be made anew inside every fold: each setting is fitted without any two of the folds. */
export async function nestSearch(id: string): Promise<void> {
  const { studyId } = await searchRow(id);
  await inTurn(studyId, async () => {
    const row = await searchRow(id);
    const design = await readyDesign(studyId);
    if (row.nested) return;
    if (row.state !== 'done')
      throw new Problem(409, 'not-finished', 'Check the choice when the search is finished.');
    if (!(await isCurrent(row, design)))
      throw new Problem(
        409,
        'other-design',
        'The design has changed since. Search again on the new one, then check the choice.',
      );
    const nesting = await nestingOf(row, design.choices);
    if (!nesting) throw new Problem(409, 'not-nested', whyNot);
    const trials = await trialsOf(id);
    const folds = await foldsOf(row);
    const looked = trials.length * design.counts!.development.patients * folds;
    if (looked > mostLooked)
      throw new Problem(409, 'too-much', 'These are too many settings and patients to be nested.');
    await atOnce(async () => {
      const fitted = trials.filter(({ problem }) => !problem);
      const pairs = pairsOfFolds(folds).map(({ name }) => name);
      await addPieces(row, fitted, row.round, pairs);
      await wait(row, { nested: true, workTotal: row.workTotal + nesting.fits });
    });
  });
}

const whyNot =
  'Nested cross-validation is of settings that are all tried, in three folds or more that are dealt once.';

/** How many fits it takes; undefined where it makes no sense. */
export async function nestingOf(row: SearchRow, design?: Design): Promise<Nesting | undefined> {
  const { plan, nested, id } = row;
  const { folds } = design ?? (await designOf(row));
  const isPlain = !plan.fewer && !plan.growing && plan.way.kind !== 'race';
  const many = await foldsOf(row);
  if (!isPlain || repeatsOf(folds) > 1 || many < 3) return undefined;
  const [{ pieces }] = await db()
    .select({ pieces: count() })
    .from(searchPiece)
    .where(and(eq(searchPiece.searchId, id), ofFolds));
  return { asked: nested, fits: (pieces * (many - 1)) / 2 };
}

/** What the choice comes to where it is made anew inside every fold; null until that is fitted. */
export async function nestedOf(id: string, measureId: string): Promise<NestedShown | null> {
  const row = await searchRow(id);
  if (!row.nested || row.state !== 'done') return null;
  const ground = await loadDevelopment({ ...row, settings: row.plan.fixed });
  const measure = measureFor(ground.outcome.kind, measureId);
  const { by } = await judgedByInForce(row.studyId, ground);
  // Folds are dealt once: each patient is predicted once.
  const { developmentRows: rows, folds, outcome } = ground;
  const kept = (where: ReturnType<typeof sql>) =>
    db()
      .select({
        part: searchPiece.part,
        trials: searchPiece.trials,
        header: searchPiece.header,
        values: searchPiece.values,
      })
      .from(searchPiece)
      .where(and(eq(searchPiece.searchId, id), isNotNull(searchPiece.values), where))
      .orderBy(asc(searchPiece.number)) as Promise<KeptPiece[]>;
  const [pieces, pairs] = await Promise.all([
    kept(ofFolds),
    kept(sql`${searchPiece.part} like 'folds %'`),
  ]);
  return onThread('nested', {
    outcome: takeOutcome(outcome, rows),
    pieces,
    pairs,
    places: placesOf(folds),
    folds,
    times: 1,
    by: ofSome(by, rows),
    measure: measure.id,
  });
}
