import { reasonRoutes } from '../../../../../contract/reasons.ts';
import { answer } from '../../../../../server/door/index.ts';
import { askWorth, worthView } from '../../../../../server/reasons/index.ts';

export const GET = answer(reasonRoutes.worth, ({ ids }) => worthView(ids.candidate));

export const POST = answer(reasonRoutes.askWorth, ({ ids, body }) =>
  askWorth(ids.candidate, body.together),
);
