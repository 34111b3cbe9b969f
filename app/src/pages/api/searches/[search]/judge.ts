import { searchRoutes } from '../../../../contract/searches.ts';
import { judgeSearch } from '../../../../server/searches/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const POST = answer(searchRoutes.judge, ({ ids }) => judgeSearch(ids.search));
