import { searchRoutes } from '../../../../../contract/searches.ts';
import { addSearch, listSearches } from '../../../../../server/searches/index.ts';
import { answer } from '../../../../../server/door/index.ts';

export const GET = answer(searchRoutes.list, ({ ids }) => listSearches(ids.study));

export const POST = answer(searchRoutes.add, async ({ ids, body }) => ({
  id: await addSearch(ids.study, body.family, body.plan, body.basis),
}));
