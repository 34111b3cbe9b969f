import { useSyncExternalStore, type ReactNode } from 'react';
import { PanelRightClose, PanelRightOpen } from 'lucide-react';
import styles from './Margin.module.css';

/** What the program noticed about what is on the page: the evidence, and what can be done. */
export interface MarginNote {
  id: string;
  title: string;
  text: ReactNode;
  /** Where the mend is made. */
  act?: { label: string; href?: string; onClick?: () => void };
}

const rememberedAs = 'margin-folded';
const watchers = new Set<() => void>();

function watchFolded(watcher: () => void): () => void {
  watchers.add(watcher);
  return () => watchers.delete(watcher);
}

/** As the analyst left it; folded at first where the window is narrow. */
function isFolded(): boolean {
  const remembered = localStorage.getItem(rememberedAs);
  return remembered ? remembered === 'yes' : window.innerWidth < 1100;
}

function fold(value: boolean) {
  localStorage.setItem(rememberedAs, value ? 'yes' : 'no');
  watchers.forEach((watcher) => watcher());
}

/** The notes at the right; folds to a strip with their count. */
export function Margin({ notes }: { notes: MarginNote[] }) {
  const folded = useSyncExternalStore(watchFolded, isFolded, () => false);
  if (folded)
    return (
      <aside className={styles.strip} aria-label="Margin notes">
        <button
          type="button"
          onClick={() => fold(false)}
          aria-label={`Show ${notes.length} margin notes`}
          aria-expanded={false}
        >
          <PanelRightOpen size={16} aria-hidden="true" />
          <span className="figures">{notes.length}</span>
        </button>
      </aside>
    );
  return (
    <aside className={styles.margin} aria-label="Margin notes">
      <header>
        <h2>
          Margin notes <span className={styles.count}>{notes.length}</span>
        </h2>
        <button
          type="button"
          onClick={() => fold(true)}
          aria-label="Fold the margin notes"
          aria-expanded
        >
          <PanelRightClose size={16} aria-hidden="true" />
        </button>
      </header>
      {notes.length === 0 && <p className={styles.none}>Nothing to remark on this page.</p>}
      <ul>
        {notes.map(({ id, title, text, act }) => (
          <li key={id}>
            <h3>{title}</h3>
            <div className={styles.text}>{text}</div>
            {act &&
              (act.href ? (
                <a href={act.href}>{act.label}</a>
              ) : (
                <button type="button" className="link" onClick={act.onClick}>
                  {act.label}
                </button>
              ))}
          </li>
        ))}
      </ul>
    </aside>
  );
}
