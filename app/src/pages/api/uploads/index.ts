import * as z from 'zod';
import { endpoint, readQuery } from '../../../server/door/index.ts';
import { Problem } from '../../../server/ground/problem.ts';
import { receiveUpload, SteadyBody, uploadLimit, withPlace } from '../../../server/intake/index.ts';

const query = z.object({ name: z.string().trim().min(1).max(300) });

/** Takes a file as the body of the request and says how it is understood. */
export const PUT = endpoint(async (context) => {
  const { name } = readQuery(context, query);
  const { body } = context.request;
  if (!body)
    throw new Problem(
      422,
      'empty-file',
      'The file is empty. Nothing was stored; choose another file.',
    );
  const incoming = new SteadyBody(body);
  try {
    return await withPlace(() => receiveUpload(incoming.content(), name));
  } finally {
    await incoming.drain(2 * uploadLimit);
  }
});
