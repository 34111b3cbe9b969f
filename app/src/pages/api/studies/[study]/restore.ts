import { restoreStudy } from '../../../../server/deletion.ts';
import { endpoint, readId } from '../../../../server/endpoint.ts';

export const POST = endpoint((context) => restoreStudy(readId(context, 'study')));
