import * as z from 'zod';
import { endpoint, readId, readQuery } from '../../../../server/door/index.ts';
import { screeningFileName, screeningHead } from '../../../../server/screenings/index.ts';

const query = z.object({ cutoff: z.coerce.number().optional() });

/** What belongs to the call-in list and stands beside it: model, version, cutoff, rule, costs, dates. */
export const GET = endpoint(async (context) => {
  const id = readId(context, 'screening');
  const { cutoff } = readQuery(context, query);
  const name = (await screeningFileName(id)).replace(/\.csv$/, '-head.csv');
  return new Response(await screeningHead(id, cutoff), {
    headers: {
      'Content-Type': 'text/csv; charset=utf-8',
      'Content-Disposition': `attachment; filename="${name}"`,
    },
  });
});
