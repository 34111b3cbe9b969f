import { z } from 'zod';
import { cohortInfo, readRows } from '../../../../server/cohorts/index.ts';
import { endpoint, readId, readQuery } from '../../../../server/endpoint.ts';

const page = z.object({
  from: z.coerce.number().int().min(0),
  count: z.coerce.number().int().min(1).max(500),
});

export const GET = endpoint(async (context) => {
  const { from, count } = readQuery(context, page);
  const cohort = await cohortInfo(readId(context, 'cohort'));
  const end = Math.min(cohort.rowCount, from + count);
  const rows = Array.from({ length: Math.max(0, end - from) }, (_, i) => from + i);
  return { rows: await readRows(cohort, rows) };
});
