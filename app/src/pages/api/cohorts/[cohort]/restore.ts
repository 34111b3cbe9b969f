import { restoreCohort } from '../../../../server/deletion.ts';
import { endpoint, readId } from '../../../../server/endpoint.ts';

export const POST = endpoint((context) => restoreCohort(readId(context, 'cohort')));
