import { searchRoutes } from '../../../../contract/searches.ts';
import { restoreSearch } from '../../../../server/deletion.ts';
import { answer } from '../../../../server/door/index.ts';

export const POST = answer(searchRoutes.restore, ({ ids }) => restoreSearch(ids.search), {
  deleted: true,
});
