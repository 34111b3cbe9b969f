import type { SurveyRequest } from '../../contract/surveys.ts';

/** Under which name the result is kept: one for each way of asking. */
export function partName(request: SurveyRequest): string {
  const { part } = request;
  const detail =
    part === 'relations' ? request.against : part === 'associations' ? request.ranked : '';
  const patients = 'look' in request && request.look ? 'all' : '';
  return [part, detail, patients].filter(Boolean).join(' · ');
}
