import { combinationSchema, combineUploads } from '../../../server/combine.ts';
import { endpoint, readBody } from '../../../server/endpoint.ts';

export const POST = endpoint(async (context) =>
  combineUploads(await readBody(context.request, combinationSchema)),
);
