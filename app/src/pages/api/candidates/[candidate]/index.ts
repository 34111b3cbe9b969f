import { candidateRoutes } from '../../../../contract/candidates.ts';
import { candidateDetail, nameCandidate } from '../../../../server/candidates/index.ts';
import { deleteCandidate } from '../../../../server/deletion.ts';
import { answer } from '../../../../server/door/index.ts';

export const GET = answer(candidateRoutes.detail, ({ ids }) => candidateDetail(ids.candidate));

export const DELETE = answer(candidateRoutes.remove, ({ ids }) => deleteCandidate(ids.candidate));

export const PATCH = answer(candidateRoutes.describe, ({ ids, body }) =>
  nameCandidate(ids.candidate, body),
);
