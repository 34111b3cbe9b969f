import { endpoint, readId } from '../../../../server/endpoint.ts';
import { reviewUpload } from '../../../../server/uploads.ts';

export const GET = endpoint((context) => reviewUpload(readId(context, 'upload')));
