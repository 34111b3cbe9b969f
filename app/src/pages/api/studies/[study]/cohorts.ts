import { cohortRoutes } from '../../../../contract/cohorts.ts';
import { screeningCohorts } from '../../../../server/cohorts/index.ts';
import { bringIn } from '../../../../server/designs/index.ts';
import { answer, dictionaryLimit } from '../../../../server/door/index.ts';

export const GET = answer(cohortRoutes.lists, ({ ids }) => screeningCohorts(ids.study));

export const POST = answer(
  cohortRoutes.bringIn,
  async ({ ids, body, request }) => ({ id: await bringIn(ids.study, body, request.signal) }),
  { limit: dictionaryLimit },
);
