import { screeningRoutes } from '../../../../contract/screenings.ts';
import { answer } from '../../../../server/door/index.ts';
import { setCalls } from '../../../../server/screenings/index.ts';

export const PUT = answer(screeningRoutes.setCalls, ({ ids, body }) =>
  setCalls(ids.screening, body.calls, body.scoredAt),
);
