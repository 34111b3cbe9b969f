import { endpoint, readId } from '../../../../../server/door/index.ts';
import { takeSurveyLook } from '../../../../../server/surveys/index.ts';

export const POST = endpoint((context) => takeSurveyLook(readId(context, 'study')));
