import { Readable } from 'node:stream';
import * as z from 'zod';
import { endpoint, readId, readQuery } from '../../../../server/door/index.ts';
import { screeningFile, screeningFileName } from '../../../../server/screenings/index.ts';

const query = z.object({
  cutoff: z.coerce.number().optional(),
  reasons: z.enum(['yes', 'no']).default('yes'),
});

/** The call-in list as a CSV download; `cutoff` in place of the list's own, `reasons=no` without reasons. */
export const GET = endpoint(async (context) => {
  const id = readId(context, 'screening');
  const { cutoff, reasons } = readQuery(context, query);
  const name = await screeningFileName(id);
  const stream = Readable.toWeb(
    Readable.from(screeningFile(id, { cutoff, reasons: reasons === 'yes' })).map(
      ({ text }: { text: string }) => Buffer.from(text),
    ),
  );
  return new Response(stream as ReadableStream, {
    headers: {
      'Content-Type': 'text/csv; charset=utf-8',
      'Content-Disposition': `attachment; filename="${name}"`,
    },
  });
});
