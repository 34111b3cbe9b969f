import { reasonRoutes } from '../../../../../contract/reasons.ts';
import { answer } from '../../../../../server/door/index.ts';
import { onTheWholeView } from '../../../../../server/reasons/index.ts';

export const GET = answer(reasonRoutes.onTheWhole, ({ ids }) => onTheWholeView(ids.candidate));
