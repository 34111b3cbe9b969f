import * as z from 'zod';
import { endpoint, readId } from '../../../../../server/door/index.ts';
import { surveyColumns } from '../../../../../server/surveys/index.ts';

const wanted = z.object({
  names: z.array(z.string()).max(12, 'At most twelve columns at once.'),
  withRows: z.boolean(),
  look: z.coerce.number().int().positive().optional(),
});

export const GET = endpoint((context) => {
  const query = context.url.searchParams;
  const asked = wanted.parse({
    names: query.getAll('name'),
    withRows: query.get('rows') === 'yes',
    look: query.get('look') ?? undefined,
  });
  return surveyColumns(readId(context, 'study'), asked);
});
