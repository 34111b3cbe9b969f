import { designRoutes } from '../../../../contract/designs.ts';
import { answer } from '../../../../server/door/index.ts';
import { sidesView } from '../../../../server/designs/index.ts';

export const GET = answer(designRoutes.sides, ({ ids }) => sidesView(ids.study));
