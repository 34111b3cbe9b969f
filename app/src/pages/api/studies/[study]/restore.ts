import { restoreStudy } from '../../../../server/deletion.ts';
import { endpoint, readId } from '../../../../server/door/index.ts';

export const POST = endpoint((context) => restoreStudy(readId(context, 'study')), {
  deleted: true,
});
