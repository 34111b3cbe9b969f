import { cancelFit } from '../../../../server/candidates/index.ts';
import { endpoint, readId } from '../../../../server/door/index.ts';

export const POST = endpoint((context) => cancelFit(readId(context, 'candidate')));
