import { useState, type SubmitEvent } from 'react';
import { messageOf } from '../../browser/api.ts';
import { Button, Dialog, DialogActions, Field } from '../../components/index.ts';

interface Props {
  title: string;
  name: string;
  verb: string;
  onSave: (name: string) => Promise<void>;
  onClose: () => void;
}

/** Asks for the name of a study. */
export function StudyNameDialog({ title, name, verb, onSave, onClose }: Props) {
  const [text, setText] = useState(name);
  const [error, setError] = useState<string>();
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    onSave(text).catch((problem: unknown) => setError(messageOf(problem)));
  };
  return (
    <Dialog title={title} onClose={onClose}>
      <form onSubmit={submit} style={{ display: 'grid', gap: 16 }}>
        <Field
          label="Name"
          help="The question in a few words, such as: readmission after heart failure."
          error={error}
        >
          {(ids) => (
            <input
              {...ids}
              style={{ width: '100%' }}
              maxLength={120}
              value={text}
              onChange={(event) => setText(event.target.value)}
            />
          )}
        </Field>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button look="main" type="submit">
            {verb}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
