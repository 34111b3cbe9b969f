import { searchRoutes } from '../../../../contract/searches.ts';
import { stopSearch } from '../../../../server/searches/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const POST = answer(searchRoutes.stop, ({ ids }) => stopSearch(ids.search));
