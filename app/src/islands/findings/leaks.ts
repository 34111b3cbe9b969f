import { useCallback } from 'react';
import type { Finding, FindingCode } from '@rook-scale/core/survey';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { useFindingNotes, type FindingNotes } from './use-finding-notes.ts';

const leaks = new Set<FindingCode>([
  'gives the answer away',
  'missing by outcome',
  'later by name',
]);

/** Whether a column may be recorded after the outcome. */
export const isLeak = ({ code }: Finding): boolean => leaks.has(code);

/** Which of these predictors may be recorded after the outcome. */
export function useLeakNotes(
  studyId: string,
  cohort: CohortInfo | undefined,
  predictors: string[],
): FindingNotes {
  const names = predictors.join('\n');
  const concerns = useCallback(
    (finding: Finding) => isLeak(finding) && names.split('\n').includes(finding.columns[0]),
    [names],
  );
  return useFindingNotes(studyId, cohort, concerns);
}
