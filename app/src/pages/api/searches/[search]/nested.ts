import { searchRoutes } from '../../../../contract/searches.ts';
import { nestedOf, nestSearch } from '../../../../server/searches/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const POST = answer(searchRoutes.nest, ({ ids }) => nestSearch(ids.search));

/** Worked out on a thread. */
export const GET = answer(searchRoutes.nested, ({ ids, query }) =>
  nestedOf(ids.search, query.measure),
);
