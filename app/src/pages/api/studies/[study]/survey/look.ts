import { endpoint, readId } from '../../../../../server/endpoint.ts';
import { takeSurveyLook } from '../../../../../server/surveys/index.ts';

export const POST = endpoint((context) => takeSurveyLook(readId(context, 'study')));
