import { useQuery } from '@tanstack/react-query';
import { request } from '../../browser/api.ts';
import { showCount } from '../../browser/format.ts';
import type { SurveyResults, SurveyView } from '../../server/surveys/index.ts';
import { useSurvey } from './context.ts';

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
  const query = new URLSearchParams({ part, ...asked, ...(look && { look }) }).toString();
  const { data, error } = useQuery({
    queryKey: ['survey', studyId, query],
    queryFn: () => request<SurveyView<Name>>('POST', `/api/studies/${studyId}/survey?${query}`),
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
