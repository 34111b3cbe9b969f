import { designRoutes } from '../../../../../contract/designs.ts';
import { answer } from '../../../../../server/door/index.ts';
import { preparationView } from '../../../../../server/preparation-view.ts';

export const GET = answer(designRoutes.preparation, ({ ids, query }) =>
  preparationView(ids.study, query.without),
);
