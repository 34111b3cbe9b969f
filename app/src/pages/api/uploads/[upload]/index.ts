import { uploadRoutes } from '../../../../contract/uploads.ts';
import { answer } from '../../../../server/door/index.ts';
import { reviewUpload } from '../../../../server/intake/index.ts';

export const GET = answer(uploadRoutes.review, ({ ids }) => reviewUpload(ids.upload));
