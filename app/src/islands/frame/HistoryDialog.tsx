import { useQuery } from '@tanstack/react-query';
import { studyRoutes, type Act } from '../../contract/studies.ts';
import { ask } from '../../browser/api.ts';
import { showMoment } from '../../browser/format.ts';
import { stepHistory } from '../../browser/edits.ts';
import { Button, Dialog, Notice } from '../../components/index.ts';
import styles from './QueueDialog.module.css';

/** What was done in the study, by whom, and what of it was taken back. */
export function HistoryDialog({ studyId, onClose }: { studyId: string; onClose: () => void }) {
  const { data, error, refetch } = useQuery({
    queryKey: ['acts', studyId],
    queryFn: () => ask(studyRoutes.acts, { study: studyId }),
    staleTime: 0,
  });
  return (
    <Dialog title="History of this study" wide onClose={onClose}>
      {error && <Notice>{error.message}</Notice>}
      <p className="quiet">
        Undo takes back an act of this browser and leaves what was done since. Looks, openings,
        scores and fits cannot be undone.
      </p>
      {data?.length === 0 && <p className="quiet">Nothing was done yet.</p>}
      {data && data.length > 0 && (
        <table className={styles.table}>
          <thead>
            <tr>
              <th scope="col">What was done</th>
              <th scope="col">When</th>
              <th scope="col">Where</th>
              <th scope="col">
                <span className="hidden">State</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {data.map((act) => (
              <tr key={act.id}>
                <th scope="row">{act.what}</th>
                <td>{showMoment(act.at)}</td>
                <td>{places[act.who]}</td>
                <td className={styles.acts}>
                  {act.who === 'you' && act.canBeUndone && !act.undoneAt ? (
                    <Button
                      look="link"
                      onClick={() =>
                        void stepHistory(studyId, 'undo', act.id, true).then(() => refetch())
                      }
                    >
                      Undo
                    </Button>
                  ) : (
                    <span className="quiet">{stateOf(act)}</span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Dialog>
  );
}

const places: Record<Act['who'], string> = {
  you: 'this browser',
  other: 'another browser',
  product: 'by itself',
};

function stateOf({ undoneAt, canBeUndone }: Act): string {
  if (undoneAt) return `undone ${showMoment(undoneAt)}`;
  return canBeUndone ? '' : 'cannot be undone';
}
