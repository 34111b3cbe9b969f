import { surveyRoutes } from '../../../../../contract/surveys.ts';
import { answer } from '../../../../../server/door/index.ts';
import { surveyColumns } from '../../../../../server/surveys/index.ts';

export const GET = answer(surveyRoutes.columns, ({ ids, query: { name, rows, look } }) =>
  surveyColumns(ids.study, { name, withRows: rows === 'yes', look }),
);
