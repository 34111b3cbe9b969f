import * as z from 'zod';
import { designSchema } from '@rook-scale/core/design';
import { changeDesign } from '../../../../server/designs/index.ts';
import { currentDesign } from '../../../../server/design-in-force.ts';
import { endpoint, readBody, readId } from '../../../../server/door/index.ts';

const edit = z.object({ base: designSchema, mine: designSchema, insist: z.boolean().optional() });

export const GET = endpoint(
  async (context) => (await currentDesign(readId(context, 'study'))) ?? null,
);

/** Changes the design from what a page started from to what it wants. */
export const PUT = endpoint(async (context) =>
  changeDesign(readId(context, 'study'), await readBody(context.request, edit)),
);
