import { candidateDetail } from '../../../../server/candidates/index.ts';
import { deleteCandidate } from '../../../../server/deletion.ts';
import { endpoint, readId } from '../../../../server/door/index.ts';

export const GET = endpoint((context) => candidateDetail(readId(context, 'candidate')));

export const DELETE = endpoint((context) => deleteCandidate(readId(context, 'candidate')));
