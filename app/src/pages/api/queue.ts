import { endpoint } from '../../server/endpoint.ts';
import { queueView } from '../../server/queue-view.ts';

export const GET = endpoint(() => queueView());
