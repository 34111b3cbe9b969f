export { askSurvey, beginSurvey, surveyView } from './view.ts';
export { letColumnsGo, type MeasureColumns } from './columns-at-hand.ts';
export { surveyWork, type SurveyTask } from './work.ts';
export { packColumn, surveyColumns } from './columns.ts';
export { takeSurveyLook } from './rows-at-hand.ts';
