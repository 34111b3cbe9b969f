import { useQuery } from '@tanstack/react-query';
import { type QueuedFit, queueRoutes, type QueueView } from '../../contract/queue.ts';
import { ask } from '../../browser/api.ts';
import { candidateRoutes } from '../../contract/candidates.ts';
import { searchRoutes } from '../../contract/searches.ts';
import { plural, showMoment } from '../../browser/format.ts';
import { partsText } from '../../browser/progress.ts';
import { toastError } from '../../browser/toast.ts';
import { Dialog, Notice, Progress } from '../../components/index.ts';
import styles from './QueueDialog.module.css';

/** Every fit that waits, runs or has just ended, of all studies, in the order workers take them. */
export function QueueDialog({ onClose }: { onClose: () => void }) {
  const { data, error, refetch } = useQuery({
    queryKey: ['queue'],
    queryFn: () => ask(queueRoutes.view, {}),
    refetchInterval: 1000,
  });
  const cancel = (id: string) =>
    ask(candidateRoutes.cancel, { candidate: id }).then(() => refetch(), toastError);
  const stop = (id: string) =>
    ask(searchRoutes.stop, { search: id }).then(() => refetch(), toastError);
  const fitNext = (id: string) =>
    ask(candidateRoutes.fitNext, { candidate: id }).then(() => refetch(), toastError);
  const busy = data?.fits.filter((fit) => fit.endedAt === null) ?? [];
  const next = busy.find(({ state }) => state === 'waiting')?.candidateId;
  const cancelAll = async (fits: QueuedFit[]) => {
    // Those that wait first, or a worker would begin one of them meanwhile.
    for (const { candidateId } of fits.toReversed())
      await ask(candidateRoutes.cancel, { candidate: candidateId }).catch(toastError);
    await refetch();
  };
  return (
    <Dialog title="Queue" wide onClose={onClose}>
      {error && <Notice>{error.message}</Notice>}
      {data && (
        <>
          <div className={styles.head}>
            <p className="quiet">{stateOf(data, busy.length)}</p>
            {byStudy(busy).map(([study, fits]) => (
              <button
                key={fits[0].studyId}
                type="button"
                className="link"
                onClick={() => void cancelAll(fits)}
              >
                Cancel all {fits.length} fits of {study}
              </button>
            ))}
          </div>
          {data.workers === 0 && (
            <Notice>
              No worker process has been seen for some seconds. Fits wait; nothing is lost. It is
              started again by itself; if this stays, restart the product.
            </Notice>
          )}
          {data.fits.length + data.searches.length > 0 && (
            <table className={styles.table}>
              <thead>
                <tr>
                  <th scope="col">Candidate</th>
                  <th scope="col">Study</th>
                  <th scope="col">State</th>
                  <th scope="col">
                    <span className="hidden">Acts</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {data.searches.map((one) => (
                  <tr key={one.searchId}>
                    <th scope="row">
                      <a href={`/studies/${one.studyId}/candidates?search=${one.searchId}`}>
                        {one.search}
                      </a>
                    </th>
                    <td>{one.study}</td>
                    <td>
                      {one.state === 'waiting' ? (
                        'waiting'
                      ) : (
                        <span className={styles.running}>
                          <Progress done={one.progress} total={1} label={`At ${one.search}`} />
                          {Math.floor(100 * one.progress)}%
                        </span>
                      )}
                    </td>
                    <td className={styles.acts}>
                      <button
                        type="button"
                        className="link"
                        aria-label={`Stop ${one.search}, ${one.study}`}
                        onClick={() => void stop(one.searchId)}
                      >
                        Stop
                      </button>
                    </td>
                  </tr>
                ))}
                {data.fits.map((fit) => (
                  <tr key={fit.candidateId}>
                    <th scope="row">
                      <a href={`/studies/${fit.studyId}/candidates?candidate=${fit.candidateId}`}>
                        {fit.candidate}
                      </a>
                    </th>
                    <td>{fit.study}</td>
                    <td>
                      <State fit={fit} />
                    </td>
                    <td className={styles.acts}>
                      {fit.state === 'waiting' && fit.candidateId !== next && (
                        <button
                          type="button"
                          className="link"
                          aria-label={`Fit ${fit.candidate}, ${fit.study}, next`}
                          onClick={() => void fitNext(fit.candidateId)}
                        >
                          Fit next
                        </button>
                      )}
                      {fit.endedAt === null && (
                        <button
                          type="button"
                          className="link"
                          aria-label={`Cancel ${fit.candidate}, ${fit.study}`}
                          onClick={() => void cancel(fit.candidateId)}
                        >
                          Cancel
                        </button>
                      )}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </>
      )}
    </Dialog>
  );
}

/** Studies with several fits that wait or run. */
function byStudy(busy: QueuedFit[]): [study: string, fits: QueuedFit[]][] {
  const studies = new Map<string, QueuedFit[]>();
  for (const fit of busy) studies.set(fit.studyId, [...(studies.get(fit.studyId) ?? []), fit]);
  return [...studies.values()]
    .filter((fits) => fits.length > 1)
    .map((fits) => [fits[0].study, fits]);
}

function stateOf({ workers, searches }: QueueView, fits: number): string {
  const who = `${plural(workers, 'worker')} at hand`;
  const work = [
    ...(fits > 0 ? [plural(fits, 'fit')] : []),
    ...(searches.length > 0 ? [plural(searches.length, 'search', 'searches')] : []),
  ];
  return work.length === 0
    ? `Nothing waits or runs. ${who}.`
    : `${work.join(' and ')} to do, ${who}.`;
}

function State({ fit }: { fit: QueuedFit }) {
  if (fit.state === 'waiting') return <>waiting</>;
  if (fit.state === 'fitting')
    return (
      <span className={styles.running}>
        <Progress
          done={fit.partsDone}
          total={fit.partsTotal || 6}
          label={`Fitting ${fit.candidate}`}
        />
        {partsText(fit)}
      </span>
    );
  const at = fit.endedAt ? `, ${showMoment(fit.endedAt)}` : '';
  return (
    <>
      {fit.state}
      {at}
      {fit.problem && <span className={styles.problem}>{fit.problem}</span>}
    </>
  );
}
