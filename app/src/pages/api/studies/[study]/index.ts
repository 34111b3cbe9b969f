import * as z from 'zod';
import { deleteStudy } from '../../../../server/deletion.ts';
import { endpoint, readBody, readId } from '../../../../server/door/index.ts';
import { overviewOf, renameStudy } from '../../../../server/studies.ts';

const change = z.object({
  name: z
    .string()
    .trim()
    .min(1, 'Give the study a name.')
    .max(120, 'Keep the name under 120 characters.'),
});

export const GET = endpoint((context) => overviewOf(readId(context, 'study')));

export const PATCH = endpoint(async (context) => {
  const study = readId(context, 'study');
  await renameStudy(study, (await readBody(context.request, change)).name);
});

export const DELETE = endpoint((context) => deleteStudy(readId(context, 'study')));
