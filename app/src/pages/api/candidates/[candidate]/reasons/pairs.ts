import { reasonRoutes } from '../../../../../contract/reasons.ts';
import { answer } from '../../../../../server/door/index.ts';
import { pairsView } from '../../../../../server/reasons/index.ts';

export const GET = answer(reasonRoutes.pairs, ({ ids }) => pairsView(ids.candidate));
