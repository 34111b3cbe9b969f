import { searchRoutes } from '../../../../contract/searches.ts';
import { correctedChoice } from '../../../../server/searches/index.ts';
import { answer } from '../../../../server/door/index.ts';

/** Worked out on a thread, and remembered. */
export const GET = answer(searchRoutes.corrected, ({ ids, query }) =>
  correctedChoice(ids.search, query.measure),
);
