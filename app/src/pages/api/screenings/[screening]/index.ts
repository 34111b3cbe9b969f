import { endpoint, readId } from '../../../../server/endpoint.ts';
import { screeningView } from '../../../../server/screenings/index.ts';

export const GET = endpoint((context) => screeningView(readId(context, 'screening')));
