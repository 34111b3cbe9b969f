import { studyRoutes } from '../../../contract/studies.ts';
import { answer } from '../../../server/door/index.ts';
import { createStudy } from '../../../server/studies.ts';

export const POST = answer(studyRoutes.make, async ({ body }) => ({
  id: await createStudy(body.name),
}));
