import type { ReactNode } from 'react';
import { Button } from './Button.tsx';
import { Dialog, DialogActions } from './Dialog.tsx';

interface Props {
  name: string;
  /** What goes with it. */
  children: ReactNode;
  onDelete: () => void;
  onClose: () => void;
}

/** Asks once, says what goes, and that there is a way back. */
export function ConfirmDelete({ name, children, onDelete, onClose }: Props) {
  return (
    <Dialog title={`Delete ${name}?`} onClose={onClose}>
      <div>{children} For a day it can be brought back, from the list of studies at the top.</div>
      <DialogActions>
        <Button data-first onClick={onClose}>
          Keep it
        </Button>
        <Button
          look="main"
          onClick={() => {
            onClose();
            onDelete();
          }}
        >
          Delete it
        </Button>
      </DialogActions>
    </Dialog>
  );
}
