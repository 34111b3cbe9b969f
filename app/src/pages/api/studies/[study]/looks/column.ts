import { lookRoutes } from '../../../../../contract/looks.ts';
import { answer } from '../../../../../server/door/index.ts';
import { heldOutColumn } from '../../../../../server/held-out/index.ts';

export const GET = answer(lookRoutes.column, ({ ids, query }) =>
  heldOutColumn(ids.study, query, query.name),
);
