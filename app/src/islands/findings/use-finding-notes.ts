import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { surveyRoutes, type SurveyView } from '../../contract/surveys.ts';
import { ask } from '../../browser/api.ts';
import type { MarginNote } from '../margin/index.ts';
import { groupAlike } from './group-alike.ts';
import { findingNote } from './wording.ts';

/**
 * What was noticed in the development cohort, as margin notes. The worker looks the patients
 * through after each change; until it has, the notes are those from before.
 */
export function useFindingNotes(studyId: string, cohort: CohortInfo | undefined): MarginNote[] {
  const { data } = useQuery({
    queryKey: ['survey', studyId, 'findings'],
    queryFn: async () =>
      // Of the part that was asked for.
      (await ask(
        surveyRoutes.ask,
        { study: studyId },
        { query: { part: 'findings' } },
      )) as SurveyView<'findings'>,
    enabled: cohort !== undefined,
    // The server says when they are ready; should its word be lost, this finds out.
    refetchInterval: ({ state }) => (state.data?.current === false ? 3000 : false),
  });
  return useMemo(() => {
    if (!data?.result || !cohort) return [];
    return groupAlike(
      data.result.flatMap((finding) => {
        const note = findingNote(finding, cohort);
        return note ? [{ finding, note }] : [];
      }),
      cohort,
    );
  }, [data, cohort]);
}
