import { studyRoutes } from '../../../../contract/studies.ts';
import { answer } from '../../../../server/door/index.ts';
import { step } from '../../../../server/undo/index.ts';

export const POST = answer(studyRoutes.step, async ({ ids, body }) => ({
  what: await step(ids.study, body),
}));
