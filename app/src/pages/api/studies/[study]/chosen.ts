import { studyRoutes } from '../../../../contract/studies.ts';
import { answer } from '../../../../server/door/index.ts';
import { chooseCandidate } from '../../../../server/studies.ts';

export const PUT = answer(studyRoutes.choose, ({ ids, body }) =>
  chooseCandidate(ids.study, body.candidate),
);
