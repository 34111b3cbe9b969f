import { searchRoutes } from '../../../../contract/searches.ts';
import { chooseFromSearch } from '../../../../server/searches/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const POST = answer(searchRoutes.choose, async ({ ids, body }) => ({
  id: await chooseFromSearch(ids.search, body.trial, body.how, body.measure),
}));
