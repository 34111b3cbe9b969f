import { studyRoutes } from '../../../../contract/studies.ts';
import { answer } from '../../../../server/door/index.ts';
import { markOpened } from '../../../../server/studies.ts';

export const POST = answer(studyRoutes.opened, ({ ids }) => markOpened(ids.study));
