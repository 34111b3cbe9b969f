import { designRoutes } from '../../../../contract/designs.ts';
import { allocationFile, bringInAllocation } from '../../../../server/designs/index.ts';
import { answer, endpoint, readId } from '../../../../server/door/index.ts';

/** Who stands where, as a file. */
export const GET = endpoint(async (context) => {
  const { name, text } = await allocationFile(readId(context, 'study'));
  return new Response(text, {
    headers: {
      'Content-Type': 'text/csv; charset=utf-8',
      'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
      'X-Content-Type-Options': 'nosniff',
    },
  });
});

export const POST = answer(designRoutes.bringInAllocation, ({ ids, body }) =>
  bringInAllocation(ids.study, body.uploadId),
);
