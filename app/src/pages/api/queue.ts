import { endpoint } from '../../server/door/index.ts';
import { queueView } from '../../server/queue-view.ts';

export const GET = endpoint(() => queueView());
