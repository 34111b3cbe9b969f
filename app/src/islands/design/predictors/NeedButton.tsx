import { Asterisk } from 'lucide-react';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import page from '../Design.module.css';

/** Whether nobody may be scored without it. */
export function NeedButton({
  entry,
  needed,
  onNeed,
}: {
  entry: DictionaryEntry;
  needed: boolean;
  onNeed: (name: string) => void;
}) {
  return (
    <button
      type="button"
      className={page.needed}
      aria-pressed={needed}
      aria-label={`${display(entry)} must be known`}
      title="Must be known: nobody is scored without it"
      onClick={() => onNeed(entry.name)}
    >
      <Asterisk size={13} aria-hidden="true" />
    </button>
  );
}
