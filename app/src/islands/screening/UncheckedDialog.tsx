import type { CandidateLine } from '../../contract/candidates.ts';
import { goTo } from '../../browser/leaving.ts';
import { Button, Dialog, DialogActions } from '../../components/index.ts';

interface Props {
  line: CandidateLine;
  studyId: string;
  onScore: () => void;
  onClose: () => void;
}

/** Asks before patients are scored with a fit that nobody has checked, or that is of another design. */
export function UncheckedDialog({ line, studyId, onScore, onClose }: Props) {
  const { name, seen, outOfDate } = line;
  return (
    <Dialog
      title={seen ? `${name} is out of date` : `${name} has not been checked`}
      onClose={onClose}
    >
      {!seen && (
        <p>
          Nobody has looked at the held-out results of this fit. How many cases it misses, and how
          many patients it calls in for nothing, is known out of fold only.
        </p>
      )}
      {outOfDate && <p>The design was changed since it was fitted. Fit it again in Candidates.</p>}
      <DialogActions>
        <Button onClick={onClose} data-first>
          Cancel
        </Button>
        <Button onClick={onScore}>Score all the same</Button>
        <Button
          look="main"
          onClick={() =>
            void goTo(
              `/studies/${studyId}/${outOfDate ? 'candidates' : 'held-out-check'}?candidate=${line.id}`,
            )
          }
        >
          {outOfDate ? 'Go to Candidates' : 'Go to Held-out check'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
