import { candidateRoutes } from '../../../../contract/candidates.ts';
import { fitBeforeOthers } from '../../../../server/candidates/index.ts';
import { answer } from '../../../../server/door/index.ts';

export const POST = answer(candidateRoutes.fitNext, ({ ids }) => fitBeforeOthers(ids.candidate));
