import { combinationSchema, combineUploads } from '../../../server/intake/index.ts';
import { endpoint, readBody } from '../../../server/door/index.ts';

export const POST = endpoint(async (context) =>
  combineUploads(await readBody(context.request, combinationSchema)),
);
