import { useQuery } from '@tanstack/react-query';
import type { Relation } from '@rook-scale/core/survey';
import type { DesignState } from '../../../contract/designs.ts';
import { surveyRoutes, type SurveyView } from '../../../contract/surveys.ts';
import { ask } from '../../../browser/api.ts';

/** How each column goes with the outcome, in development patients alone; undefined until it is known. */
export function useRelations(
  studyId: string,
  { choices, divisionId }: DesignState,
): Map<string, Relation> | undefined {
  const query = { part: 'relations' as const, against: choices.outcome };
  const { data } = useQuery({
    queryKey: ['survey', studyId, query],
    queryFn: async () =>
      (await ask(surveyRoutes.ask, { study: studyId }, { query })) as SurveyView<'relations'>,
    // Before there is a split it would be about held-out patients too.
    enabled: divisionId !== null && choices.outcome !== '',
    refetchInterval: ({ state }) => (state.data?.current === false ? 1000 : false),
  });
  if (!data?.result || !data.current) return undefined;
  return new Map(data.result.relations.map((relation) => [relation.name, relation]));
}
