import { uploadRoutes } from '../../../contract/uploads.ts';
import { answer } from '../../../server/door/index.ts';
import { combineUploads } from '../../../server/intake/index.ts';

export const POST = answer(uploadRoutes.combine, ({ body }) => combineUploads(body));
