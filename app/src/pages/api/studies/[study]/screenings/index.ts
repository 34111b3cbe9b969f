import { screeningRoutes } from '../../../../../contract/screenings.ts';
import { answer } from '../../../../../server/door/index.ts';
import { listScreenings, scoreCohort } from '../../../../../server/screenings/index.ts';

export const GET = answer(screeningRoutes.list, ({ ids }) => listScreenings(ids.study));

export const POST = answer(screeningRoutes.score, async ({ ids, body }) => ({
  id: await scoreCohort(ids.study, body.cohort, body.candidate, body),
}));
