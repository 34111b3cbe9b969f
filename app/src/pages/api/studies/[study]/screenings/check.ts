import { screeningRoutes } from '../../../../../contract/screenings.ts';
import { answer } from '../../../../../server/door/index.ts';
import { checkCohort } from '../../../../../server/screenings/index.ts';

export const GET = answer(screeningRoutes.check, ({ ids, query }) =>
  checkCohort(ids.study, query.cohort, query.candidate),
);
