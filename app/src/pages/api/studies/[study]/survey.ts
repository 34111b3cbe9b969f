import { endpoint, readId } from '../../../../server/endpoint.ts';
import { surveyView } from '../../../../server/surveys.ts';

export const GET = endpoint((context) => surveyView(readId(context, 'study')));
