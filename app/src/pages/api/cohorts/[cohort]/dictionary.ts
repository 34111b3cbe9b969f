import * as z from 'zod';
import { dictionarySchema } from '@rook-scale/core/table';
import { changeDictionary } from '../../../../server/designs/index.ts';
import { dictionaryLimit, endpoint, readBody, readId } from '../../../../server/door/index.ts';

const edit = z.object({
  base: dictionarySchema.min(1),
  mine: dictionarySchema.min(1),
  insist: z.boolean().optional(),
});

/** Changes the dictionary from what a page started from to what it wants. */
export const PUT = endpoint(async (context) =>
  changeDictionary(
    readId(context, 'cohort'),
    await readBody(context.request, edit, dictionaryLimit),
  ),
);
