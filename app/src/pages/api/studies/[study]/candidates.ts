import * as z from 'zod';
import {
  addCandidate,
  listCandidates,
  refitCandidates,
} from '../../../../server/candidates/index.ts';
import { endpoint, readBody, readId } from '../../../../server/door/index.ts';

const newCandidate = z.object({
  family: z.string().max(60),
  settings: z.record(z.string(), z.union([z.number(), z.string(), z.boolean()])),
});
const refit = z.object({ candidates: z.array(z.uuid()).min(1).max(1000) });

export const GET = endpoint((context) => listCandidates(readId(context, 'study')));

export const POST = endpoint(async (context) => {
  const { family, settings } = await readBody(context.request, newCandidate);
  return { id: await addCandidate(readId(context, 'study'), family, settings) };
});

/** Fits again, on the design in force. */
export const PUT = endpoint(async (context) => {
  const { candidates } = await readBody(context.request, refit);
  await refitCandidates(readId(context, 'study'), candidates);
});
