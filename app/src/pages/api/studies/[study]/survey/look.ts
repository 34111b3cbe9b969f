import { surveyRoutes } from '../../../../../contract/surveys.ts';
import { answer } from '../../../../../server/door/index.ts';
import { takeSurveyLook } from '../../../../../server/surveys/index.ts';

export const POST = answer(surveyRoutes.takeLook, ({ ids }) => takeSurveyLook(ids.study));
