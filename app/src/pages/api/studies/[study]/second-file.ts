import { designRoutes } from '../../../../contract/designs.ts';
import { bringInSecondFile, takeOutSecondFile } from '../../../../server/designs/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const POST = answer(designRoutes.bringInSecondFile, ({ ids, body }) =>
  bringInSecondFile(ids.study, body),
);

export const DELETE = answer(designRoutes.takeOutSecondFile, ({ ids }) =>
  takeOutSecondFile(ids.study),
);
