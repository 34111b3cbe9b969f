import type { Suggestion } from '@rook-scale/core/screening';
import { plural } from '../../browser/format.ts';
import { Button, Dialog, DialogActions } from '../../components/index.ts';
import { SuggestionText } from './Suggestions.tsx';
import styles from './Match.module.css';

interface Props {
  suggestions: Suggestion[];
  labelOf: (predictor: string) => string;
  onUse: () => void;
  onScore: () => void;
  onClose: () => void;
}

/** Asks before patients are scored without columns that the list seems to have. */
export function UnmatchedDialog({ suggestions, labelOf, onUse, onScore, onClose }: Props) {
  const one = suggestions.length === 1;
  return (
    <Dialog
      title={`${plural(suggestions.length, 'predictor is', 'predictors are')} not matched yet`}
      onClose={onClose}
    >
      <p>The list seems to have {one ? 'it' : 'them'} under another name or in another unit:</p>
      <ul className={styles.reasons}>
        {suggestions.map((suggestion) => (
          <li key={suggestion.predictor}>
            <SuggestionText of={suggestion} labelOf={labelOf} />
          </li>
        ))}
      </ul>
      <p>
        Scored as it is, a column under another name counts as not known, and one in another unit as
        if it were in the model’s.
      </p>
      <DialogActions>
        <Button onClick={onClose} data-first>
          Cancel
        </Button>
        <Button onClick={onScore}>Score as it is</Button>
        <Button look="main" onClick={onUse}>
          Use {one ? 'it' : 'them all'}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
