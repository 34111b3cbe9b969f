import { cohortRoutes } from '../../../../contract/cohorts.ts';
import { cohortInfo, patientsWhere, readRows } from '../../../../server/cohorts/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const GET = answer(cohortRoutes.rows, async ({ ids, query: { from, count, where } }) => {
  const cohort = await cohortInfo(ids.cohort);
  const found = where ? await patientsWhere(cohort, where) : undefined;
  const total = found?.length ?? cohort.rowCount;
  const places = Array.from(
    { length: Math.max(0, Math.min(total, from + count) - from) },
    (_, i) => found?.[from + i] ?? from + i,
  );
  return { total, places, rows: await readRows(cohort, places) };
});
