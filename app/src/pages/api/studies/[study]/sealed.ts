import { lookRoutes } from '../../../../contract/looks.ts';
import { answer } from '../../../../server/door/index.ts';
import { openSealed, sealedView } from '../../../../server/sealed.ts';

export const GET = answer(lookRoutes.sealed, ({ ids }) => sealedView(ids.study));

export const POST = answer(lookRoutes.openSealed, ({ ids, body }) =>
  openSealed(ids.study, body.candidate, body.reason),
);
