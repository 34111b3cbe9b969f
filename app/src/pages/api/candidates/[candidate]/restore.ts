import { restoreCandidate } from '../../../../server/deletion.ts';
import { endpoint, readId } from '../../../../server/door/index.ts';

export const POST = endpoint((context) => restoreCandidate(readId(context, 'candidate')), {
  deleted: true,
});
