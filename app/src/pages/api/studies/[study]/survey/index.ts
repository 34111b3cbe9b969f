import { surveyRoutes } from '../../../../../contract/surveys.ts';
import { answer } from '../../../../../server/door/index.ts';
import { askSurvey, surveyView } from '../../../../../server/surveys/index.ts';

export const GET = answer(surveyRoutes.view, ({ ids, query }) => surveyView(ids.study, query));

export const POST = answer(surveyRoutes.ask, ({ ids, query }) => askSurvey(ids.study, query));
