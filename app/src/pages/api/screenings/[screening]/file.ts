import { Readable } from 'node:stream';
import { endpoint, readId } from '../../../../server/endpoint.ts';
import { screeningFile, screeningFileName } from '../../../../server/screenings.ts';

/** The call-in list as a CSV download. */
export const GET = endpoint(async (context) => {
  const id = readId(context, 'screening');
  const name = await screeningFileName(id);
  const stream = Readable.toWeb(
    Readable.from(screeningFile(id)).map((text: string) => Buffer.from(text)),
  );
  return new Response(stream as ReadableStream, {
    headers: {
      'Content-Type': 'text/csv; charset=utf-8',
      'Content-Disposition': `attachment; filename="${name}"`,
    },
  });
});
