import { searchRoutes } from '../../../../contract/searches.ts';
import { deleteSearch } from '../../../../server/deletion.ts';
import { searchDetail } from '../../../../server/searches/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const GET = answer(searchRoutes.detail, ({ ids, query }) =>
  searchDetail(ids.search, query.measure),
);

export const DELETE = answer(searchRoutes.remove, ({ ids }) => deleteSearch(ids.search));
