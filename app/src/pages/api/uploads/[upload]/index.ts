import { endpoint, readId } from '../../../../server/door/index.ts';
import { reviewUpload } from '../../../../server/intake/index.ts';

export const GET = endpoint((context) => reviewUpload(readId(context, 'upload')));
