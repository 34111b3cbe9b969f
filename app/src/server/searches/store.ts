import { and, asc, eq, isNull } from 'drizzle-orm';
import { caseRule, designFor, type Design } from '@rook-scale/core/design';
import { familyOf } from '@rook-scale/core/families';
import type { Outcome } from '@rook-scale/core/outcome';
import { searchMeasures, type SearchMeasure } from '@rook-scale/core/search';
import { db, tables } from '../ground/database/index.ts';
import { notFound, Problem } from '../ground/problem.ts';

export type SearchRow = typeof tables.search.$inferSelect;
export type TrialRow = typeof tables.trial.$inferSelect;

/** As the interface shows it: the family, numbered in one row with the candidates. */
export const searchName = ({ family, number }: Pick<SearchRow, 'family' | 'number'>): string =>
  `${familyOf(family).description.name} ${number}`;

export async function searchRow(id: string): Promise<SearchRow> {
  const [found] = await db()
    .select()
    .from(tables.search)
    .where(and(eq(tables.search.id, id), isNull(tables.search.deletedAt)));
  if (!found) throw notFound('The search');
  return found;
}

export async function designOf({ designId }: Pick<SearchRow, 'designId'>): Promise<Design> {
  const [found] = await db()
    .select({ choices: tables.design.choices })
    .from(tables.design)
    .where(eq(tables.design.id, designId));
  return found.choices;
}

/** How many folds the design of a search has, those of all times. */
export async function foldsOf({ designId }: Pick<SearchRow, 'designId'>): Promise<number> {
  const [found] = await db()
    .select({ folds: tables.division.folds })
    .from(tables.division)
    .innerJoin(tables.design, eq(tables.design.divisionId, tables.division.id))
    .where(eq(tables.design.id, designId));
  return found.folds.reduce((most, fold) => Math.max(most, fold), 0) + 1;
}

/** The predictors that a search has to select from, on the design that it was made on. */
export const predictorsOf = async (row: Pick<SearchRow, 'designId' | 'basis'>): Promise<string[]> =>
  designFor(await designOf(row), row.basis).predictors;

/** All settings of a search in the order in which they were added. */
export const trialsOf = (searchId: string): Promise<TrialRow[]> =>
  db()
    .select()
    .from(tables.trial)
    .where(eq(tables.trial.searchId, searchId))
    .orderBy(asc(tables.trial.number));

/** A measure that settings can be compared by, of this kind of outcome. */
export function measureFor(kind: Outcome['kind'], id: string): SearchMeasure {
  const found = searchMeasures[kind].find((measure) => measure.id === id);
  if (found) return found;
  throw new Problem(
    400,
    'no-measure',
    'Settings of this kind of outcome are not compared by that.',
  );
}

/** What figures of a search are judged by: another key, other figures. */
export const judgedKey = (design: Design): string =>
  JSON.stringify([
    design.missedCost,
    design.falseAlarmCost,
    design.ownCosts,
    caseRule(design),
    design.kind === 'levels' ? design.levelCosts : null,
  ]);
