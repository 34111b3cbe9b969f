import { studyRoutes } from '../../../../contract/studies.ts';
import { restoreStudy } from '../../../../server/deletion.ts';
import { answer } from '../../../../server/door/index.ts';

export const POST = answer(studyRoutes.restore, ({ ids }) => restoreStudy(ids.study), {
  deleted: true,
});
