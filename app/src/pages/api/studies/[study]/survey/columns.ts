import { z } from 'zod';
import { endpoint, readId } from '../../../../../server/endpoint.ts';
import { surveyColumns } from '../../../../../server/surveys/index.ts';

const wanted = z.object({
  names: z.array(z.string()).min(1, 'Name a column.').max(12, 'At most twelve columns at once.'),
  look: z.coerce.number().int().positive().optional(),
});

export const GET = endpoint((context) => {
  const query = context.url.searchParams;
  const { names, look } = wanted.parse({
    names: query.getAll('name'),
    look: query.get('look') ?? undefined,
  });
  return surveyColumns(readId(context, 'study'), names, look);
});
