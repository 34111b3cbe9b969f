import { studyRoutes } from '../../../../contract/studies.ts';
import { listActs } from '../../../../server/acts/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const GET = answer(studyRoutes.acts, ({ ids }) => listActs(ids.study));
