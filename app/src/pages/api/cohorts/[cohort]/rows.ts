import * as z from 'zod';
import { cohortInfo, patientsWhere, readRows } from '../../../../server/cohorts/index.ts';
import { endpoint, readId, readQuery } from '../../../../server/door/index.ts';

const page = z.object({
  from: z.coerce.number().int().min(0),
  count: z.coerce.number().int().min(1).max(500),
  /** A condition that the patients must meet. */
  where: z.string().max(4000).optional(),
});

/** A page of patients, each with its place in the cohort, and how many there are in all. */
export const GET = endpoint(async (context) => {
  const { from, count, where } = readQuery(context, page);
  const cohort = await cohortInfo(readId(context, 'cohort'));
  const found = where ? await patientsWhere(cohort, where) : undefined;
  const total = found?.length ?? cohort.rowCount;
  const places = Array.from(
    { length: Math.max(0, Math.min(total, from + count) - from) },
    (_, i) => found?.[from + i] ?? from + i,
  );
  return { total, places, rows: await readRows(cohort, places) };
});
