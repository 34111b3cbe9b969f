import { useQuery } from '@tanstack/react-query';
import { searchRoutes, type SearchDetail, type SearchLine } from '../../contract/searches.ts';
import { ask } from '../../browser/api.ts';

export const useSearches = (studyId: string, first: SearchLine[]) =>
  useQuery({
    queryKey: ['searches', studyId],
    queryFn: () => ask(searchRoutes.list, { study: studyId }),
    initialData: first,
  }).data;

/** Times that a running search is read again at most, from its first settings to its last. */
const readings = 25;

/** An open search by one of its measures; read again as its settings are judged. */
export function useSearchDetail(
  line: SearchLine,
  measure: string,
): { detail?: SearchDetail; readAt: number } {
  const isBusy = line.state === 'waiting' || line.state === 'running';
  const step = Math.max(1, Math.ceil(line.settings / readings));
  const { data, dataUpdatedAt } = useQuery({
    queryKey: [
      'search',
      line.id,
      measure,
      isBusy ? Math.floor(line.judged / step) : `${line.state} ${line.judged}`,
      line.round,
      line.settings,
      line.otherCosts,
    ],
    queryFn: () => ask(searchRoutes.detail, { search: line.id }, { query: { measure } }),
    // While the next reading is under way the one before is shown, but never that of another search.
    placeholderData: (before) =>
      before?.id === line.id && before.measure === measure ? before : undefined,
    staleTime: isBusy ? Infinity : 0,
    ...(isBusy && { meta: { lasting: true } }),
  });
  return { detail: data, readAt: dataUpdatedAt };
}
