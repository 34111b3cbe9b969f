import * as z from 'zod';
import { selectionSchema } from '@rook-scale/core/selection';
import { changeSelection } from '../../../../server/designs/index.ts';
import { endpoint, readBody, readId } from '../../../../server/door/index.ts';

const body = z.object({
  base: selectionSchema,
  mine: selectionSchema,
  insist: z.boolean().optional(),
});

export const PUT = endpoint(async (context) =>
  changeSelection(readId(context, 'cohort'), await readBody(context.request, body)),
);
