import { uploadRoutes } from '../../../../contract/uploads.ts';
import { answer } from '../../../../server/door/index.ts';
import { readingProgress } from '../../../../server/intake/index.ts';

export const GET = answer(uploadRoutes.progress, ({ ids }) =>
  Promise.resolve(readingProgress(ids.upload) ?? null),
);
