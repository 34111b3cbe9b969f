import { useState, type SubmitEvent } from 'react';
import { messageOf } from '../../browser/api.ts';
import { Button, Dialog, DialogActions, Field } from '../../components/index.ts';
import styles from './Margin.module.css';

interface Props {
  title: string;
  onDismiss: (reason: string) => Promise<void>;
  onClose: () => void;
}

/** Asks why a note is dismissed: the reason is kept for whoever reviews the study. */
export function DismissDialog({ title, onDismiss, onClose }: Props) {
  const [reason, setReason] = useState('');
  const [error, setError] = useState<string>();
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    if (!reason.trim()) {
      setError('Say why: the reason is kept with the study.');
      return;
    }
    onDismiss(reason).catch((problem: unknown) => setError(messageOf(problem)));
  };
  return (
    <Dialog title={`Dismiss: ${title}`} onClose={onClose}>
      <form className={styles.dismissing} noValidate onSubmit={submit}>
        <Field
          label="Reason"
          help="In a few words, for whoever reviews the study, such as: checked against the charts."
          error={error}
        >
          {(ids) => (
            <input
              {...ids}
              maxLength={500}
              value={reason}
              onChange={(event) => setReason(event.target.value)}
            />
          )}
        </Field>
        <DialogActions>
          <Button onClick={onClose}>Leave the note</Button>
          <Button look="main" type="submit">
            Dismiss it
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
