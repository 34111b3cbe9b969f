import * as z from 'zod';
import { step } from '../../../../server/designs/index.ts';
import { endpoint, readBody, readId } from '../../../../server/door/index.ts';

const wanted = z.object({ direction: z.enum(['undo', 'redo']) });

/** Goes one change of dictionary or design back, or forward again. */
export const POST = endpoint(async (context) => {
  const { direction } = await readBody(context.request, wanted);
  return { what: await step(readId(context, 'study'), direction) };
});
