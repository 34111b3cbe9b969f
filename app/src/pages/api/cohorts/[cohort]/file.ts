import * as z from 'zod';
import { cohortInfo } from '../../../../server/cohorts/index.ts';
import { endpoint, readId, readQuery } from '../../../../server/door/index.ts';
import { exportCohort, exportFormats, sides } from '../../../../server/exports/index.ts';
import { Problem } from '../../../../server/ground/problem.ts';

const wanted = z.object({
  format: z.string(),
  side: z.enum(sides).default('all'),
  marks: z.literal('yes').optional(),
});

/** The patients of a cohort as a file, with the dictionary where the format has room for it. */
export const GET = endpoint(async (context) => {
  const { format: id, side, marks } = readQuery(context, wanted);
  const format = exportFormats.find((one) => one.id === id);
  if (!format) throw new Problem(400, 'format', 'There is no such format.');
  const { name, body } = await exportCohort(
    await cohortInfo(readId(context, 'cohort')),
    format,
    side,
    marks === 'yes',
  );
  return new Response(body, {
    headers: {
      'Content-Type': format.type,
      'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
      'X-Content-Type-Options': 'nosniff',
    },
  });
});
