import * as z from 'zod';
import { endpoint, readBody, readId } from '../../../../server/door/index.ts';
import { listLooks, takeLook } from '../../../../server/looks.ts';

export const GET = endpoint((context) => listLooks(readId(context, 'study')));

/** Held-out results are given in answer to a counted look, and in no other way. */
export const POST = endpoint(async (context) => {
  const { candidate } = await readBody(context.request, z.object({ candidate: z.uuid() }));
  return takeLook(readId(context, 'study'), candidate);
});
