import { endpoint, readId } from '../../../../server/door/index.ts';
import { markOpened } from '../../../../server/studies.ts';

/** Says that the study is open in a browser: it is the one that is shown first next time. */
export const POST = endpoint((context) => markOpened(readId(context, 'study')));
