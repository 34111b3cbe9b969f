import { useSyncExternalStore } from 'react';
import { questionStore } from '../../browser/consent.ts';
import { Button, Dialog, DialogActions } from '../../components/index.ts';

/** Asks what the server wants to know before it does what was asked; nothing is done where it is closed. */
export function ConsentDialog() {
  const question = useSyncExternalStore(
    questionStore.subscribe,
    questionStore.get,
    () => undefined,
  );
  if (!question) return null;
  const { title, text, consequence, yes, answer } = question;
  return (
    <Dialog title={title} onClose={() => answer(false)}>
      <p>{text}</p>
      {consequence && <p>{consequence}</p>}
      <DialogActions>
        <Button onClick={() => answer(false)} data-first>
          Cancel
        </Button>
        <Button look="main" onClick={() => answer(true)}>
          {yes}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
