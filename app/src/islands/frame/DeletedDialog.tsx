import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { type Deleted, deletedRoutes } from '../../contract/deleted.ts';
import { ask } from '../../browser/api.ts';
import { restore } from '../../browser/deletion.ts';
import { showMoment } from '../../browser/format.ts';
import { Button, Dialog, Notice } from '../../components/index.ts';
import { EraseDialog } from './EraseDialog.tsx';
import styles from './QueueDialog.module.css';

const words = { study: 'study', cohort: 'cohort', candidate: 'candidate', search: 'search' };

/** What was deleted within the last day, each with the way back. */
export function DeletedDialog({ onClose }: { onClose: () => void }) {
  const { data, error, refetch } = useQuery({
    queryKey: ['deleted'],
    queryFn: () => ask(deletedRoutes.list, {}),
    staleTime: 0,
  });
  const [erasing, setErasing] = useState<Deleted>();
  const back = (one: Deleted) => void restore(one.what, one.id, one.name).then(() => refetch());
  if (erasing)
    return (
      <EraseDialog
        one={erasing}
        onErased={() => {
          setErasing(undefined);
          void refetch();
        }}
        onClose={() => setErasing(undefined)}
      />
    );
  return (
    <Dialog title="Deleted within the last day" wide onClose={onClose}>
      {error && <Notice>{error.message}</Notice>}
      {data?.length === 0 && <p className="quiet">Nothing was deleted.</p>}
      {data && data.length > 0 && (
        <table className={styles.table}>
          <thead>
            <tr>
              <th scope="col">What</th>
              <th scope="col">Study</th>
              <th scope="col">Deleted</th>
              <th scope="col">
                <span className="hidden">Acts</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {data.map((one) => (
              <tr key={one.id}>
                <th scope="row">
                  {words[one.what]} {one.name}
                </th>
                <td>{one.what === 'study' ? '' : one.study}</td>
                <td>{showMoment(one.at)}</td>
                <td className={styles.acts}>
                  <Button look="link" onClick={() => back(one)}>
                    Bring back
                  </Button>
                  <Button look="link" onClick={() => setErasing(one)}>
                    Erase now
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Dialog>
  );
}
