import { listDeleted } from '../../server/deletion.ts';
import { endpoint } from '../../server/endpoint.ts';

export const GET = endpoint(() => listDeleted());
