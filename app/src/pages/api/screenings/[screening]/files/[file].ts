import { Readable } from 'node:stream';
import { screeningRoutes } from '../../../../../contract/screenings.ts';
import { answer, endpoint, readId } from '../../../../../server/door/index.ts';
import { deleteListFile, keptListFile } from '../../../../../server/screenings/index.ts';

/** A file that is whole, as a CSV download. */
export const GET = endpoint(async (context) => {
  const { name, bytes, parts } = await keptListFile(
    readId(context, 'screening'),
    readId(context, 'file'),
  );
  return new Response(Readable.toWeb(Readable.from(parts)) as ReadableStream, {
    headers: {
      'Content-Type': 'text/csv; charset=utf-8',
      'Content-Length': String(bytes),
      'Content-Disposition': `attachment; filename="${name}"`,
    },
  });
});

export const DELETE = answer(screeningRoutes.deleteFile, ({ ids }) =>
  deleteListFile(ids.screening, ids.file),
);
