import { useEffect, useId, useRef, type ReactNode } from 'react';
import styles from './Dialog.module.css';

interface Props {
  title: string;
  onClose: () => void;
  children: ReactNode;
}

/** A modal dialog; the browser keeps the focus inside and gives it back afterwards. */
export function Dialog({ title, onClose, children }: Props) {
  const element = useRef<HTMLDialogElement>(null);
  const heading = useId();
  useEffect(() => {
    const dialog = element.current;
    if (dialog && !dialog.open) dialog.showModal();
  }, []);
  return (
    <dialog
      ref={element}
      className={styles.dialog}
      aria-labelledby={heading}
      onClose={onClose}
      onMouseDown={(event) => event.target === element.current && onClose()}
    >
      <div className={styles.inside}>
        <h1 id={heading}>{title}</h1>
        {children}
      </div>
    </dialog>
  );
}

/** The row of buttons at the end of a dialog. */
export function DialogActions({ children }: { children: ReactNode }) {
  return <div className={styles.actions}>{children}</div>;
}
