import * as z from 'zod';
import { endpoint, readBody } from '../../../server/door/index.ts';
import { createStudy } from '../../../server/studies.ts';

const newStudy = z.object({
  name: z
    .string()
    .trim()
    .min(1, 'Give the study a name.')
    .max(120, 'Keep the name under 120 characters.'),
});

export const POST = endpoint(async ({ request }) => {
  const { name } = await readBody(request, newStudy);
  return { id: await createStudy(name) };
});
