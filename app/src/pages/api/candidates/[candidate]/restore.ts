import { restoreCandidate } from '../../../../server/deletion.ts';
import { endpoint, readId } from '../../../../server/endpoint.ts';

export const POST = endpoint((context) => restoreCandidate(readId(context, 'candidate')));
