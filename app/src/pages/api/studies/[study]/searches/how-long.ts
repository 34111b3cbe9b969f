import { searchRoutes } from '../../../../../contract/searches.ts';
import { howLong } from '../../../../../server/searches/index.ts';
import { answer } from '../../../../../server/door/index.ts';

export const POST = answer(searchRoutes.howLong, ({ ids, body }) =>
  howLong(ids.study, body.family, body.plan, body.basis),
);
