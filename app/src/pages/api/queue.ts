import { queueRoutes } from '../../contract/queue.ts';
import { answer } from '../../server/door/index.ts';
import { queueView } from '../../server/queue-view.ts';

export const GET = answer(queueRoutes.view, () => queueView());
