import { candidateRoutes } from '../../../../contract/candidates.ts';
import { differingPatients } from '../../../../server/candidates/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const GET = answer(candidateRoutes.differing, ({ ids, query }) =>
  differingPatients(ids.candidate, query.with),
);
