import { useQuery } from '@tanstack/react-query';
import { designRoutes, type DesignState } from '../../contract/designs.ts';
import { ask } from '../../browser/api.ts';

/** What the division in force looks like, while there is one. */
export const useSides = (studyId: string, state: DesignState) =>
  useQuery({
    queryKey: ['sides', studyId, state.divisionId, state.fitKey, state.choices.ownCosts],
    queryFn: () => ask(designRoutes.sides, { study: studyId }),
    enabled: state.divisionId !== null,
    // Of another split the figures would be those of other patients.
    placeholderData: (before, query) =>
      query?.queryKey[2] === state.divisionId ? before : undefined,
  });
