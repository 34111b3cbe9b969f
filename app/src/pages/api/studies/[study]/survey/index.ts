import { endpoint, readId, readQuery } from '../../../../../server/endpoint.ts';
import { surveyRequestSchema, surveyView } from '../../../../../server/surveys/index.ts';

export const GET = endpoint((context) =>
  surveyView(readId(context, 'study'), readQuery(context, surveyRequestSchema)),
);
