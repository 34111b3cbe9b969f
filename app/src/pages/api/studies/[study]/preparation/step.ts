import { designRoutes } from '../../../../../contract/designs.ts';
import { answer } from '../../../../../server/door/index.ts';
import { stepView } from '../../../../../server/preparation-view.ts';

export const GET = answer(designRoutes.step, ({ ids, query }) => stepView(ids.study, query));
