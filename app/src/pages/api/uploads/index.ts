import * as z from 'zod';
import { endpoint, readQuery } from '../../../server/door/index.ts';
import { Problem } from '../../../server/ground/problem.ts';
import { receiveUpload, uploadLimit } from '../../../server/intake/index.ts';

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
  const incoming = readSlowly(body);
  try {
    return await receiveUpload(incoming.content(), name);
  } finally {
    await incoming.drain();
  }
});

/**
 * A body that is not cut off when a reader stops early: an answer given while the browser is still
 * sending would be lost, and with it the sentence that says what is wrong with the file.
 */
function readSlowly(body: ReadableStream<Uint8Array>) {
  const reader = body.getReader();
  let bytes = 0;
  async function* content(): AsyncGenerator<Uint8Array> {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) return;
      bytes += value.length;
      yield value;
    }
  }
  const drain = async () => {
    while (bytes <= 2 * uploadLimit) {
      const { done, value } = await reader.read();
      if (done) return;
      bytes += value.length;
    }
    await reader.cancel();
  };
  return { content, drain };
}
