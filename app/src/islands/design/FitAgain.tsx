import { useQuery } from '@tanstack/react-query';
import { candidateRoutes } from '../../contract/candidates.ts';
import { ask } from '../../browser/api.ts';
import { plural } from '../../browser/format.ts';
import { toastError } from '../../browser/toast.ts';
import { Button } from '../../components/index.ts';

/** Where a change of the design has made fits out of date: all of them again, in one act. */
export function FitAgain({ studyId, ready }: { studyId: string; ready: boolean }) {
  const { data: lines = [] } = useQuery({
    queryKey: ['candidates', studyId],
    queryFn: () => ask(candidateRoutes.list, { study: studyId }),
  });
  const stale = lines.filter(
    ({ outOfDate, state }) => outOfDate && state !== 'waiting' && state !== 'fitting',
  );
  const atWork = lines.filter(({ state }) => state === 'waiting' || state === 'fitting').length;
  if (!ready || (stale.length === 0 && atWork === 0)) return null;
  if (stale.length === 0)
    return <span className="quiet">{plural(atWork, 'candidate')} being fitted</span>;
  return (
    <Button
      onClick={() =>
        void ask(
          candidateRoutes.refit,
          { study: studyId },
          { body: { candidates: stale.map(({ id }) => id) } },
        ).catch(toastError)
      }
    >
      Fit {plural(stale.length, 'candidate')} again
    </Button>
  );
}
