import { searchRoutes } from '../../../../contract/searches.ts';
import { lookCloser } from '../../../../server/searches/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const POST = answer(searchRoutes.closer, ({ ids, body }) =>
  lookCloser(ids.search, body.trial),
);
