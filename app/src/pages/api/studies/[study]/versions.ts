import { designRoutes } from '../../../../contract/designs.ts';
import { forgetVersion, keepVersion, listVersions } from '../../../../server/designs/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const GET = answer(designRoutes.versions, ({ ids }) => listVersions(ids.study));

export const POST = answer(designRoutes.keepVersion, ({ ids, body }) =>
  keepVersion(ids.study, body),
);

export const DELETE = answer(designRoutes.forgetVersion, ({ ids, body }) =>
  forgetVersion(ids.study, body.id),
);
