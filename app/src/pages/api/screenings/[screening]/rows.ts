import * as z from 'zod';
import { endpoint, readId, readQuery } from '../../../../server/door/index.ts';
import { screenedRows } from '../../../../server/screenings/index.ts';

const page = z.object({
  from: z.coerce.number().int().min(0),
  count: z.coerce.number().int().min(1).max(500),
});

export const GET = endpoint(async (context) => {
  const { from, count } = readQuery(context, page);
  return { rows: await screenedRows(readId(context, 'screening'), from, count) };
});
