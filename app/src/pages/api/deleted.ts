import { deletedRoutes } from '../../contract/deleted.ts';
import { listDeleted } from '../../server/deletion.ts';
import { answer } from '../../server/door/index.ts';

export const GET = answer(deletedRoutes.list, () => listDeleted());
