import { cohortRoutes } from '../../../../contract/cohorts.ts';
import { cohortInfo, tryFormula } from '../../../../server/cohorts/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const POST = answer(cohortRoutes.tryFormula, async ({ ids, body }) =>
  tryFormula(await cohortInfo(ids.cohort), body.formula, body.column),
);
