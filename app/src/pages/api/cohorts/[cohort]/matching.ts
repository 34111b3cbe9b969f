import { screeningRoutes } from '../../../../contract/screenings.ts';
import { answer } from '../../../../server/door/index.ts';
import { matchColumns } from '../../../../server/screenings/index.ts';

/** Says which columns of a list stand for which predictors of a candidate's model. */
export const PUT = answer(screeningRoutes.match, ({ ids, body }) =>
  matchColumns(ids.cohort, body.candidate, body.matching),
);
