import { Button, Dialog, DialogActions } from '../../components/index.ts';

interface Props {
  /** The cutoff of the list. */
  kept: number;
  /** Where the marker was moved to. */
  marker: number;
  /** A cutoff in words. */
  show: (cutoff: number) => string;
  /** @param cutoff undefined for the list's own */
  onTake: (cutoff: number | undefined) => void;
  onClose: () => void;
}

/** Asks at which cutoff the file makes its calls, where the marker stands elsewhere. */
export function WhichCutoff({ kept, marker, show, onTake, onClose }: Props) {
  return (
    <Dialog title="At which cutoff?" onClose={onClose}>
      <p>
        The page shows the calls at {show(marker)}, where the marker stands. The cutoff of this list
        is {show(kept)}. The file names the cutoff that it was made at.
      </p>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button onClick={() => onTake(undefined)}>File at {show(kept)}</Button>
        <Button look="main" data-first onClick={() => onTake(marker)}>
          File at {show(marker)}, as shown
        </Button>
      </DialogActions>
    </Dialog>
  );
}
