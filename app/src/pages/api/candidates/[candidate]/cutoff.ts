import { candidateRoutes } from '../../../../contract/candidates.ts';
import { setCutoffRule } from '../../../../server/candidates/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const PUT = answer(candidateRoutes.setCutoff, ({ ids, body }) =>
  setCutoffRule(ids.candidate, body),
);
