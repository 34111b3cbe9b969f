import { searchRoutes } from '../../../../contract/searches.ts';
import { goOnWithSearch } from '../../../../server/searches/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const POST = answer(searchRoutes.goOn, ({ ids }) => goOnWithSearch(ids.search));
