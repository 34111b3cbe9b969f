import { and, asc, eq, isNull, sql } from 'drizzle-orm';
import { familyOf } from '@rook-scale/core/families';
import { costsEntering } from '@rook-scale/core/search';
import type { DesignState } from '../../contract/designs.ts';
import type { SearchLine } from '../../contract/searches.ts';
import { sameFit, type CarriedOut } from '../candidates/index.ts';
import { currentDesign } from '../design-in-force.ts';
import { db, tables } from '../ground/database/index.ts';
import { judgedUnder } from './judged-by.ts';
import { judgedKey, searchName, type SearchRow } from './store.ts';

const { search, trial } = tables;

export async function listSearches(studyId: string): Promise<SearchLine[]> {
  const inForce = await currentDesign(studyId);
  const rows = await db()
    .select({
      search: tables.search,
      choices: tables.design.choices,
      fitKey: tables.design.fitKey,
      patients: tables.division.patients,
      settings: sql<number>`(select count(*)::int from ${trial} where ${trial.searchId} = ${search.id})`,
      judged: sql<number>`(select count(*)::int from ${trial} where ${trial.searchId} = ${search.id}
        and ${trial.judgedRound} >= ${search.round})`,
    })
    .from(search)
    .innerJoin(tables.design, eq(tables.design.id, search.designId))
    .innerJoin(tables.cohort, eq(tables.cohort.id, tables.design.cohortId))
    .leftJoin(tables.division, eq(tables.division.id, tables.design.divisionId))
    .where(
      and(eq(search.studyId, studyId), isNull(search.deletedAt), isNull(tables.cohort.deletedAt)),
    )
    .orderBy(asc(search.number));
  return rows.map(({ search: one, settings, judged, ...madeOn }): SearchLine => {
    const { id, number, family, basis, plan, state, shares, round, problem, best } = one;
    const inForceNow = judgedUnder(madeOn.choices, inForce?.choices);
    return {
      id,
      number,
      name: searchName(one),
      family,
      basis,
      plan,
      state,
      settings,
      judged,
      round: round + 1,
      rounds: shares?.length ?? 1,
      share: shares?.[round] ?? 1,
      progress: one.workTotal > 0 ? Math.min(1, one.workDone / one.workTotal) : 0,
      left: timeLeft(one),
      problem,
      best,
      outOfDate: !inForce || !isOn(one, madeOn, inForce),
      otherCosts: one.judgedBy !== null && one.judgedBy !== judgedKey(inForceNow),
    };
  });
}

/** Whether what a search fits would be the same on the design in force. */
export async function isCurrent(row: SearchRow, inForce: DesignState): Promise<boolean> {
  const [madeOn] = await db()
    .select({
      choices: tables.design.choices,
      fitKey: tables.design.fitKey,
      patients: tables.division.patients,
    })
    .from(tables.design)
    .leftJoin(tables.division, eq(tables.division.id, tables.design.divisionId))
    .where(eq(tables.design.id, row.designId));
  return isOn(row, madeOn, inForce);
}

function isOn({ family, basis, plan }: SearchRow, madeOn: CarriedOut, inForce: CarriedOut) {
  // Where costs enter any of the settings tried, they enter the search.
  const settings = { ...plan.fixed, ...costsEntering(familyOf(family).description, plan) };
  return sameFit({ family, settings, basis }, madeOn, inForce);
}

/** From how fast it has been since it last went on. */
function timeLeft({ state, startedAt, workTotal, workDone, workBefore }: SearchRow): number | null {
  if (state !== 'running' || !startedAt || workDone <= workBefore) return null;
  const elapsed = Date.now() - startedAt.getTime();
  return (elapsed * Math.max(0, workTotal - workDone)) / (workDone - workBefore);
}
