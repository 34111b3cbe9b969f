import { endpoint, readId } from '../../../../server/door/index.ts';
import { preparationView } from '../../../../server/preparation-view.ts';

export const GET = endpoint((context) => preparationView(readId(context, 'study')));
