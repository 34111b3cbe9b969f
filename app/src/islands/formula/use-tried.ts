import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { type CohortInfo, cohortRoutes, type FormulaTried } from '../../contract/cohorts.ts';
import { ask } from '../../browser/api.ts';

/** What a formula would give, a moment after the last key. */
export function useTried(
  cohort: CohortInfo,
  formula: string,
  column?: string,
): { tried: FormulaTried | undefined; pending: boolean; problem: string | undefined } {
  const [settled, setSettled] = useState(formula);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(formula), 250);
    return () => clearTimeout(timer);
  }, [formula]);
  const { data, error, isFetching } = useQuery({
    queryKey: ['formula', cohort.id, cohort.version, settled, column],
    queryFn: ({ signal }) =>
      ask(
        cohortRoutes.tryFormula,
        { cohort: cohort.id },
        { body: { formula: settled, column }, signal },
      ),
    enabled: settled.trim() !== '',
    staleTime: 60_000,
    meta: { lasting: true },
  });
  const current = settled === formula;
  return {
    tried: settled.trim() === '' ? undefined : data,
    pending: !current || isFetching,
    problem: error?.message,
  };
}
