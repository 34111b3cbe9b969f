import { screeningRoutes } from '../../../../contract/screenings.ts';
import { answer } from '../../../../server/door/index.ts';
import { screenedRows } from '../../../../server/screenings/index.ts';

export const GET = answer(screeningRoutes.rows, async ({ ids, query }) => ({
  rows: await screenedRows(ids.screening, query.from, query.count),
}));
