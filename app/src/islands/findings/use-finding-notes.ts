import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import type { Finding } from '@rook-scale/core/survey';
import type { CohortInfo } from '../../contract/cohorts.ts';
import { surveyRoutes, type SurveyView } from '../../contract/surveys.ts';
import { ask } from '../../browser/api.ts';
import type { MarginNote } from '../margin/index.ts';
import { groupAlike } from './group-alike.tsx';
import { findingNote } from './wording.ts';

export interface FindingNotes {
  notes: MarginNote[];
  /** The patients as they are now are still being checked, and have been for a while. */
  checking: boolean;
  /** The notes are those of the patients as they are now. */
  known: boolean;
}

/** A shorter wait is not worth a word. */
const quietFor = 400;

/**
 * What was noticed in the development cohort, as margin notes. The worker checks the patients after
 * each change; until it has, the notes are those from before.
 *
 * @param concerns which findings are about the page; all where left out
 */
export function useFindingNotes(
  studyId: string,
  cohort: CohortInfo | undefined,
  concerns: (finding: Finding) => boolean = always,
): FindingNotes {
  const { data, isError } = useQuery({
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
  const notes = useMemo(() => {
    if (!data?.result || !cohort) return [];
    return groupAlike(
      data.result.filter(concerns).flatMap((finding) => {
        const note = findingNote(finding, cohort);
        return note ? [{ finding, note }] : [];
      }),
      cohort,
    );
  }, [data, cohort, concerns]);
  const isPending = cohort !== undefined && !isError && data?.current !== true;
  return { notes, checking: useLasting(isPending), known: data?.current === true };
}

const always = () => true;

/** Whether something has been so for a while. */
function useLasting(is: boolean): boolean {
  const [lasting, setLasting] = useState(false);
  useEffect(() => {
    if (!is) return;
    const timer = setTimeout(() => setLasting(true), quietFor);
    return () => {
      clearTimeout(timer);
      setLasting(false);
    };
  }, [is]);
  return lasting;
}
