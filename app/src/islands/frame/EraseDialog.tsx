import { useState, type SubmitEvent } from 'react';
import type { Deleted } from '../../contract/deleted.ts';
import { erase } from '../../browser/deletion.ts';
import { Button, Dialog, DialogActions, Field } from '../../components/index.ts';
import styles from './QueueDialog.module.css';

const goes = {
  study:
    'Its patients, the files they came in, its design, candidates, looks and lists go for good, at once.',
  cohort: 'Its patients, the file they came in and everything made of them go for good, at once.',
  search: 'Its settings and predictions go for good, at once. Candidates made of it stay.',
  candidate: 'Its model and predictions go for good, at once. Looks at it stay counted.',
};

/** Erases for good what was deleted, once its name is typed. */
export function EraseDialog({
  one,
  onErased,
  onClose,
}: {
  one: Deleted;
  onErased: () => void;
  onClose: () => void;
}) {
  const [typed, setTyped] = useState('');
  const [busy, setBusy] = useState(false);
  const isMeant = typed.trim() === one.name.trim();
  const submit = async (event: SubmitEvent) => {
    event.preventDefault();
    if (!isMeant || busy) return;
    setBusy(true);
    if (await erase(one.what, one.id, typed)) onErased();
    else setBusy(false);
  };
  return (
    <Dialog title={`Erase ${one.name} for good?`} onClose={onClose}>
      <form className={styles.erase} onSubmit={(event) => void submit(event)}>
        <p>
          {goes[one.what]} There is no way back. Copies in backups stay until those are removed.
        </p>
        <Field label={`Type ${one.name} to say that this is the one`}>
          {(ids) => (
            <input
              {...ids}
              data-first
              autoComplete="off"
              spellCheck={false}
              value={typed}
              onChange={(event) => setTyped(event.target.value)}
            />
          )}
        </Field>
        <DialogActions>
          <Button onClick={onClose}>Keep it</Button>
          <Button look="main" type="submit" disabled={!isMeant || busy}>
            Erase it now
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
