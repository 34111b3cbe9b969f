import { cohortRoutes } from '../../../../contract/cohorts.ts';
import { changeSelection } from '../../../../server/designs/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const PUT = answer(cohortRoutes.changeSelection, ({ ids, body }) =>
  changeSelection(ids.cohort, body),
);
