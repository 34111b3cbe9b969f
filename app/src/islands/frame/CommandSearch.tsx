import { useId, useMemo, useState, type KeyboardEvent } from 'react';
import { Dialog } from '../../components/index.ts';
import { matching, type Command } from './commands.ts';
import styles from './CommandSearch.module.css';

interface Props {
  commands: Command[];
  onClose: () => void;
}

/** Finds a page, a column, a candidate, a list or an act by any part of its words. */
export function CommandSearch({ commands, onClose }: Props) {
  const [text, setText] = useState('');
  const [place, setPlace] = useState(0);
  const listId = useId();
  const found = useMemo(() => matching(commands, text), [commands, text]);
  const chosen = Math.min(place, found.length - 1);
  const run = (command: Command | undefined) => {
    if (!command) return;
    onClose();
    command.run();
  };
  const press = (event: KeyboardEvent) => {
    const moves: Record<string, number> = { ArrowDown: 1, ArrowUp: -1, PageDown: 8, PageUp: -8 };
    if (event.key in moves) {
      const next = Math.max(0, Math.min(found.length - 1, chosen + moves[event.key]));
      setPlace(next);
      document.getElementById(`${listId}-${next}`)?.scrollIntoView({ block: 'nearest' });
    } else if (event.key === 'Enter') run(found[chosen]);
    else return;
    event.preventDefault();
  };
  return (
    <Dialog title="Find" bare onClose={onClose}>
      <input
        className={styles.input}
        autoFocus
        role="combobox"
        aria-expanded
        aria-controls={listId}
        aria-activedescendant={found.length > 0 ? `${listId}-${chosen}` : undefined}
        aria-label="Find a page, a column, a candidate or an act"
        placeholder="A page, a column, a candidate, an act"
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setPlace(0);
        }}
        onKeyDown={press}
      />
      <ul id={listId} role="listbox" aria-label="Found" className={styles.list}>
        {found.map((command, i) => (
          <li
            key={`${command.kind} ${command.name} ${i}`}
            id={`${listId}-${i}`}
            role="option"
            aria-selected={i === chosen}
            className={i === chosen ? styles.chosen : undefined}
            onPointerMove={() => setPlace(i)}
            onClick={() => run(command)}
          >
            <span>{command.name}</span>
            <span className={styles.kind}>{command.hint ?? command.kind}</span>
          </li>
        ))}
      </ul>
      {found.length === 0 && <p className={styles.none}>Nothing here has “{text}” in its words.</p>}
    </Dialog>
  );
}
