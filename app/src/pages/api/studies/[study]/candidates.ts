import { candidateRoutes } from '../../../../contract/candidates.ts';
import { addCandidate, refitCandidates } from '../../../../server/candidates/index.ts';
import { answer } from '../../../../server/door/index.ts';
import { candidatesOf } from '../../../../server/page-data.ts';

export const GET = answer(candidateRoutes.list, ({ ids }) => candidatesOf(ids.study));

export const POST = answer(candidateRoutes.add, async ({ ids, body }) => ({
  id: await addCandidate(ids.study, body.family, body.settings, body.basis),
}));

export const PUT = answer(candidateRoutes.refit, ({ ids, body }) =>
  refitCandidates(ids.study, body.candidates),
);
