import { useQuery } from '@tanstack/react-query';
import { display, type Dictionary } from '@rook-scale/core/table';
import { cohortRoutes } from '../contract/cohorts.ts';
import { ask } from './api.ts';

/** The dictionary of the development cohort, and how a column is shown by it. */
export function useDictionary(studyId: string): {
  dictionary: Dictionary;
  labelOf: (name: string) => string;
} {
  const { data: cohort } = useQuery({
    queryKey: ['development', studyId],
    queryFn: () => ask(cohortRoutes.development, { study: studyId }),
  });
  const dictionary = cohort?.dictionary ?? [];
  return {
    dictionary,
    labelOf(name) {
      const entry = dictionary.find((one) => one.name === name);
      return entry ? display(entry) : name;
    },
  };
}
