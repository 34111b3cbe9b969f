import { studyRoutes } from '../../../../contract/studies.ts';
import { step } from '../../../../server/designs/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const POST = answer(studyRoutes.step, async ({ ids, body }) => ({
  what: await step(ids.study, body.direction),
}));
