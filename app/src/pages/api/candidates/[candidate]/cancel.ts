import { cancelFit } from '../../../../server/candidates.ts';
import { endpoint, readId } from '../../../../server/endpoint.ts';

export const POST = endpoint((context) => cancelFit(readId(context, 'candidate')));
