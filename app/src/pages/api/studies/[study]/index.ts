import { studyRoutes } from '../../../../contract/studies.ts';
import { deleteStudy } from '../../../../server/deletion.ts';
import { answer } from '../../../../server/door/index.ts';
import { overviewOf, renameStudy } from '../../../../server/studies.ts';

export const GET = answer(studyRoutes.overview, ({ ids }) => overviewOf(ids.study));

export const PATCH = answer(studyRoutes.rename, ({ ids, body }) =>
  renameStudy(ids.study, body.name),
);

export const DELETE = answer(studyRoutes.remove, ({ ids }) => deleteStudy(ids.study));
