import { candidateRoutes } from '../../../../contract/candidates.ts';
import { compareCandidates } from '../../../../server/candidates/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const GET = answer(candidateRoutes.compare, ({ ids, query }) =>
  compareCandidates(ids.candidate, query.with),
);
