import { X } from 'lucide-react';
import { useEffect, useId, useRef, type ReactNode } from 'react';
import styles from './Dialog.module.css';

interface Props {
  title: string;
  /** Room for a table. */
  wide?: boolean;
  /** Without padding and visible heading, for a dialog that is one control. */
  bare?: boolean;
  onClose: () => void;
  children: ReactNode;
}

/** A modal dialog; the browser keeps the focus inside and gives it back afterwards. */
export function Dialog({ title, wide = false, bare = false, onClose, children }: Props) {
  const element = useRef<HTMLDialogElement>(null);
  const content = useRef<HTMLDivElement>(null);
  const heading = useId();
  useEffect(() => {
    const dialog = element.current;
    if (!dialog) return;
    const before = document.activeElement;
    if (!dialog.open) dialog.showModal();
    const inside = content.current;
    const first =
      inside?.querySelector<HTMLElement>('[data-first]') ??
      inside?.querySelector<HTMLElement>('input, select, textarea, button, a');
    first?.focus();
    return () => {
      // Taken off the page while open, the browser gives the focus back to nobody.
      if (before instanceof HTMLElement || before instanceof SVGElement) before.focus();
    };
  }, []);
  return (
    <dialog
      ref={element}
      className={`${styles.dialog} ${wide ? styles.wide : ''} ${bare ? styles.top : ''}`}
      aria-labelledby={heading}
      onClose={onClose}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || event.defaultPrevented) return;
        // The browser would tell of the closing only later, and take what was opened meanwhile along.
        event.preventDefault();
        onClose();
      }}
      onMouseDown={(event) => event.target === element.current && onClose()}
    >
      <div className={bare ? undefined : styles.inside}>
        <header className={bare ? 'hidden' : styles.head}>
          <h1 id={heading}>{title}</h1>
          <button type="button" aria-label="Close" onClick={onClose}>
            <X size={16} aria-hidden="true" />
          </button>
        </header>
        <div ref={content} className={styles.content}>
          {children}
        </div>
      </div>
    </dialog>
  );
}

/** The row of buttons at the end of a dialog. */
export function DialogActions({ children }: { children: ReactNode }) {
  return <div className={styles.actions}>{children}</div>;
}
