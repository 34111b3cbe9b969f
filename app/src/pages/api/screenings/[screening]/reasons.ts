import { screeningRoutes } from '../../../../contract/screenings.ts';
import { answer } from '../../../../server/door/index.ts';
import { screenedReasons } from '../../../../server/screenings/index.ts';

export const GET = answer(screeningRoutes.reasons, ({ ids, query }) =>
  screenedReasons(ids.screening, query.from, query.count),
);
