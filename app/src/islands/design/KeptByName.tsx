import { useState } from 'react';
import { Button, Dialog, DialogActions, Field, Notice } from '../../components/index.ts';
import styles from './Design.module.css';

interface Props<Kept> {
  /** What is kept, in words: "predictors", "preparation". */
  what: string;
  kept: Kept[];
  /** Whether it is what the design has in force. */
  isInForce: (one: Kept) => boolean;
  /** Whether there is something to keep. */
  canKeep: boolean;
  onKeep: (name: string) => void;
  onTake: (one: Kept) => void;
  onForget: (name: string) => void;
}

/** What is kept with the study under names: taken into force with one act, and used by candidates. */
export function KeptByName<Kept extends { name: string }>(props: Props<Kept>) {
  const { what, kept, isInForce, canKeep, onKeep, onTake, onForget } = props;
  const [naming, setNaming] = useState(false);
  const [name, setName] = useState('');
  const known = kept.some((one) => one.name === name.trim());
  const keep = () => {
    if (name.trim() === '') return;
    onKeep(name.trim());
    setNaming(false);
    setName('');
  };
  return (
    <>
      {kept.map((one) => (
        <span key={one.name} className={styles.kept} data-in-force={isInForce(one)}>
          <Button look="link" disabled={isInForce(one)} onClick={() => onTake(one)}>
            {one.name}
          </Button>
          <button
            type="button"
            aria-label={`Forget the ${what} ${one.name}`}
            title="Forget it"
            onClick={() => onForget(one.name)}
          >
            ×
          </button>
        </span>
      ))}
      {canKeep && !kept.some(isInForce) && (
        <Button look="link" onClick={() => setNaming(true)}>
          keep under a name
        </Button>
      )}
      {naming && (
        <Dialog title={`Keep the ${what} under a name`} onClose={() => setNaming(false)}>
          <form
            onSubmit={(event) => {
              event.preventDefault();
              keep();
            }}
          >
            <Field label="Name" help="Candidates can be fitted on it by this name.">
              {(ids) => (
                <input
                  {...ids}
                  value={name}
                  maxLength={60}
                  onChange={({ target }) => setName(target.value)}
                />
              )}
            </Field>
            {known && (
              <Notice kind="plain">There is one of this name: it would be replaced.</Notice>
            )}
            <DialogActions>
              <Button onClick={() => setNaming(false)}>Cancel</Button>
              <Button look="main" type="submit" disabled={name.trim() === ''}>
                Keep it
              </Button>
            </DialogActions>
          </form>
        </Dialog>
      )}
    </>
  );
}
