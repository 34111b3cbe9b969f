import { uploadRoutes } from '../../../../contract/uploads.ts';
import { answer } from '../../../../server/door/index.ts';
import { readUploadAnew } from '../../../../server/intake/index.ts';

export const PUT = answer(uploadRoutes.readAnew, ({ ids, body }) =>
  readUploadAnew(ids.upload, body),
);
