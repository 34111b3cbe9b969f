import { endpoint, readId } from '../../../../server/door/index.ts';
import { screeningView } from '../../../../server/screenings/index.ts';

export const GET = endpoint((context) => screeningView(readId(context, 'screening')));
