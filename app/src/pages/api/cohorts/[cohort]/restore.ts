import { restoreCohort } from '../../../../server/deletion.ts';
import { endpoint, readId } from '../../../../server/door/index.ts';

export const POST = endpoint((context) => restoreCohort(readId(context, 'cohort')), {
  deleted: true,
});
