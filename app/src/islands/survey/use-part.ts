import { useQuery } from '@tanstack/react-query';
import type * as z from 'zod';
import {
  surveyRoutes,
  type surveyRequestSchema,
  type SurveyResults,
  type SurveyView,
} from '../../contract/surveys.ts';
import { ask } from '../../browser/api.ts';
import { showCount } from '../../browser/format.ts';
import { useSurvey } from './context.ts';

type SurveyQuery = z.input<typeof surveyRequestSchema>;

export interface Part<Name extends keyof SurveyResults> {
  /** What is known; of before a change until the worker has caught up. */
  result: SurveyResults[Name] | undefined;
  waiting: boolean;
  /** Why the result is not the last word yet: it is of before a change, or of a sample so far. */
  unfinished: string | undefined;
  problem: string | undefined;
}

/** A part of the survey that a worker works out; fetched again until it is about what is in force. */
export function usePart<Name extends keyof SurveyResults>(
  part: Name,
  asked: Record<string, string> = {},
  enabled = true,
): Part<Name> {
  const { studyId, look } = useSurvey();
  const query = { part, ...asked, ...(look && { look }) } as SurveyQuery;
  const { data, error } = useQuery({
    queryKey: ['survey', studyId, query],
    queryFn: async () =>
      // Of the part that was asked for.
      (await ask(surveyRoutes.ask, { study: studyId }, { query })) as SurveyView<Name>,
    enabled,
    // The server says when it is ready; should its word be lost, this finds out.
    refetchInterval: ({ state }) => (state.data?.current === false ? 1000 : false),
  });
  return {
    result: data?.result ?? undefined,
    waiting: enabled && data?.current !== true,
    unfinished: data?.current === false ? unfinished(data.sampled) : undefined,
    problem: error?.message ?? data?.problem ?? undefined,
  };
}

function unfinished(sampled: number | null): string {
  return sampled === null
    ? 'being worked out anew'
    : `from ${showCount(sampled)} patients so far; all of them are being counted`;
}
