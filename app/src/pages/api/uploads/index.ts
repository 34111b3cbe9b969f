import { z } from 'zod';
import { endpoint, readQuery } from '../../../server/endpoint.ts';
import { Problem } from '../../../server/problem.ts';
import { receiveUpload } from '../../../server/uploads.ts';

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
  // Node's streams can be read with for await; the browser's types do not say so yet.
  return receiveUpload(body as unknown as AsyncIterable<Uint8Array>, name);
});
