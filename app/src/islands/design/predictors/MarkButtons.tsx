import { Asterisk, Lock } from 'lucide-react';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import { markNames, type ListProps, type MarkName } from './offered.ts';
import page from '../Design.module.css';

const marks: { [M in MarkName]: { icon: typeof Lock; words: string; about: string } } = {
  needed: {
    icon: Asterisk,
    words: 'must be known',
    about: 'Must be known: nobody is scored without it',
  },
  fixed: {
    icon: Lock,
    words: 'cannot be changed',
    about: 'Cannot be changed, such as age: it stays where Reasons looks for changes of a patient',
  },
};

/** What holds of a predictor: that nobody may be scored without it, and that nothing changes it. */
export function MarkButtons({
  entry,
  marked,
  onMark,
}: Pick<ListProps, 'marked' | 'onMark'> & { entry: DictionaryEntry }) {
  return markNames.map((mark) => {
    const { icon: Icon, words, about } = marks[mark];
    return (
      <button
        key={mark}
        type="button"
        className={page.needed}
        aria-pressed={marked[mark].has(entry.name)}
        aria-label={`${display(entry)} ${words}`}
        title={about}
        onClick={() => onMark(mark, entry.name)}
      >
        <Icon size={13} aria-hidden="true" />
      </button>
    );
  });
}
