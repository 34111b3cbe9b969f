import { designRoutes } from '../../../../contract/designs.ts';
import { currentDesign } from '../../../../server/design-in-force.ts';
import { changeDesign } from '../../../../server/designs/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const GET = answer(
  designRoutes.inForce,
  async ({ ids }) => (await currentDesign(ids.study)) ?? null,
);

export const PUT = answer(designRoutes.change, ({ ids, body }) => changeDesign(ids.study, body));
