import { reasonRoutes } from '../../../../../contract/reasons.ts';
import { answer } from '../../../../../server/door/index.ts';
import { overTwoView } from '../../../../../server/reasons/index.ts';

export const GET = answer(reasonRoutes.overTwo, ({ ids, query: { across, up } }) =>
  overTwoView(ids.candidate, across !== undefined && up !== undefined ? [across, up] : []),
);
