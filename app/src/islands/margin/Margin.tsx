import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { PanelRightClose, PanelRightOpen } from 'lucide-react';
import { type Dismissal, dismissalRoutes } from '../../contract/dismissals.ts';
import { ask } from '../../browser/api.ts';
import { toast, toastError } from '../../browser/toast.ts';
import { isTyping } from '../../browser/typing.ts';
import { DismissDialog } from './DismissDialog.tsx';
import { fold, useFolded } from './folded.ts';
import styles from './Margin.module.css';

/** One thing that can be done about a note. */
export interface NoteAct {
  label: string;
  href?: string;
  onClick?: () => void;
  /** Opened by the act. */
  dialog?: (onClose: () => void) => ReactNode;
}

/** What the program noticed about what is on the page: the evidence, and what can be done. */
export interface MarginNote {
  /** The same for the same remark about the same thing: a dismissal holds for it. */
  id: string;
  title: string;
  text: ReactNode;
  /** What it is about, where that is many things. */
  list?: string[];
  /** Where the mend is made. */
  acts?: NoteAct[];
  /** Says how things are and cannot be dismissed. */
  standing?: boolean;
}

/** The notes at the right; folds to a strip with their count. */
export function Margin({
  studyId,
  notes,
  checking = false,
}: {
  studyId?: string;
  notes: MarginNote[];
  /** More notes may follow. */
  checking?: boolean;
}) {
  const folded = useFolded();
  const dismissals = useDismissals(studyId);
  const [dismissing, setDismissing] = useState<MarginNote>();
  const dismissed = new Map(dismissals.map((one) => [one.note, one]));
  const open = notes.filter((note) => note.standing || !dismissed.has(note.id));
  const closed = notes.filter((note) => !note.standing && dismissed.has(note.id));
  const list = useNextNoteKey(folded);
  const ids = { study: studyId! };
  const bringBack = (note: string) =>
    void ask(dismissalRoutes.bringBack, ids, { body: { note } }).catch(toastError);
  const dismiss = async (note: MarginNote, reason: string) => {
    const body = { note: note.id, title: note.title, reason };
    await ask(dismissalRoutes.dismiss, ids, { body });
    setDismissing(undefined);
    toast(`Dismissed: ${note.title}`, { label: 'Bring it back', run: () => bringBack(note.id) });
  };
  if (folded)
    return (
      <aside className={styles.strip} aria-label="Margin notes">
        <button
          type="button"
          onClick={() => fold(false)}
          aria-label={`Show ${open.length} margin notes`}
          aria-expanded={false}
        >
          <PanelRightOpen size={16} aria-hidden="true" />
          <span className="figures">{open.length}</span>
        </button>
      </aside>
    );
  return (
    <aside className={styles.margin} aria-label="Margin notes">
      <header>
        <h2>
          Margin notes <span className={styles.count}>{open.length}</span>
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
      {checking ? (
        <p className={styles.checking} role="status">
          Checking the patients for problems. More notes may follow.
        </p>
      ) : (
        open.length === 0 && <p className={styles.none}>Nothing to remark on this page.</p>
      )}
      <ul ref={list}>
        {open.map((note) => (
          <li key={note.id} tabIndex={-1}>
            <h3>{note.title}</h3>
            {note.list && <NoteList items={note.list} />}
            <div className={styles.text}>{note.text}</div>
            <div className={styles.acts}>
              {note.acts?.map((act) => (
                <Act key={act.label} act={act} />
              ))}
              {studyId && !note.standing && (
                <button
                  type="button"
                  className={styles.dismiss}
                  aria-label={`Dismiss: ${note.title}`}
                  onClick={() => setDismissing(note)}
                >
                  Dismiss
                </button>
              )}
            </div>
          </li>
        ))}
      </ul>
      {closed.length > 0 && (
        <details className={styles.closed}>
          <summary>{closed.length} dismissed</summary>
          {closed.map((note) => (
            <div key={note.id}>
              <h3>{note.title}</h3>
              <p>“{dismissed.get(note.id)?.reason}”</p>
              <button type="button" className="link" onClick={() => bringBack(note.id)}>
                Bring it back
              </button>
            </div>
          ))}
        </details>
      )}
      {dismissing && (
        <DismissDialog
          title={dismissing.title}
          onDismiss={(reason) => dismiss(dismissing, reason)}
          onClose={() => setDismissing(undefined)}
        />
      )}
    </aside>
  );
}

function Act({ act }: { act: NoteAct }) {
  const [isOpen, setOpen] = useState(false);
  if (act.href) return <a href={act.href}>{act.label}</a>;
  return (
    <>
      <button
        type="button"
        className="link"
        onClick={act.dialog ? () => setOpen(true) : act.onClick}
      >
        {act.label}
      </button>
      {isOpen && act.dialog?.(() => setOpen(false))}
    </>
  );
}

const none: Dismissal[] = [];

function useDismissals(studyId: string | undefined): Dismissal[] {
  const { data } = useQuery({
    queryKey: ['dismissals', studyId],
    queryFn: () => ask(dismissalRoutes.list, { study: studyId! }),
    enabled: studyId !== undefined,
  });
  return data ?? none;
}

/** `n` goes to the next note, from the last one to the first; a folded margin opens. */
function useNextNoteKey(folded: boolean) {
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.key !== 'n' || event.ctrlKey || event.metaKey || event.altKey) return;
      if (isTyping(event.target)) return;
      if (folded) {
        fold(false);
        return;
      }
      const notes = [...(list.current?.children ?? [])] as HTMLElement[];
      if (notes.length === 0) return;
      const at = notes.findIndex((note) => note.contains(document.activeElement));
      notes[(at + 1) % notes.length].focus();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [folded]);
  return list;
}

const shownAtOnce = 6;

function NoteList({ items }: { items: string[] }) {
  const rest = items.slice(shownAtOnce);
  return (
    <div className={styles.text}>
      <ul className={styles.list}>
        {items.slice(0, shownAtOnce).map((item, i) => (
          <li key={i}>{item}</li>
        ))}
      </ul>
      {rest.length > 0 && (
        <details>
          <summary>and {rest.length} more</summary>
          <ul className={styles.list}>
            {rest.map((item, i) => (
              <li key={i}>{item}</li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}
