import { listDeleted } from '../../server/deletion.ts';
import { endpoint } from '../../server/door/index.ts';

export const GET = endpoint(() => listDeleted());
