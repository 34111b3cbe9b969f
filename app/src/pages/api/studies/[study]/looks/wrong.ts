import { lookRoutes } from '../../../../../contract/looks.ts';
import { answer } from '../../../../../server/door/index.ts';
import { wrongPatients } from '../../../../../server/held-out/index.ts';

export const GET = answer(lookRoutes.wrong, ({ ids, query }) =>
  wrongPatients(ids.study, query, query.cutoff),
);
