import { endpoint, readId, readQuery } from '../../../../../server/door/index.ts';
import { askSurvey, surveyRequestSchema, surveyView } from '../../../../../server/surveys/index.ts';

/** A part of the survey as far as it is there. */
export const GET = endpoint((context) =>
  surveyView(readId(context, 'study'), readQuery(context, surveyRequestSchema)),
);

/** The same, and has it worked out where it is not there yet; asked for again it is one job. */
export const POST = endpoint((context) =>
  askSurvey(readId(context, 'study'), readQuery(context, surveyRequestSchema)),
);
