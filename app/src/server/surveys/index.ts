export { surveyRequestSchema, type SurveyRequest } from './request.ts';
export { askSurvey, beginSurvey, surveyView, type SurveyView } from './view.ts';
export {
  type AssociationsSurveyed,
  type ColumnsSurveyed,
  type RelationsSurveyed,
  type SurveyResults,
} from './results.ts';
export { letColumnsGo, type MeasureColumns } from './columns-at-hand.ts';
export { surveyWork, type SurveyTask } from './work.ts';
export { surveyColumns, type PackedColumn, type PackedColumns } from './columns.ts';
export { takeSurveyLook } from './rows-at-hand.ts';
