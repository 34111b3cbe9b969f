import { X } from 'lucide-react';
import { useEffect, useState, useSyncExternalStore } from 'react';
import { dismissToast, toastStore, type Toast } from '../../browser/toast.ts';
import styles from './Toasts.module.css';

const none: Toast[] = [];

/** What was just done, at the lower right; stays while the pointer or the focus is on it. */
export function Toasts() {
  const toasts = useSyncExternalStore(toastStore.subscribe, toastStore.get, () => none);
  return (
    <div className={styles.stack} role="status" aria-label="What was just done">
      {toasts.map((toast) => (
        <One key={toast.id} toast={toast} />
      ))}
    </div>
  );
}

function One({ toast }: { toast: Toast }) {
  const [held, setHeld] = useState(false);
  const { id, act } = toast;
  useEffect(() => {
    if (held) return;
    const timer = setTimeout(() => dismissToast(id), act || toast.fault ? 12_000 : 5_000);
    return () => clearTimeout(timer);
  }, [id, act, held, toast.fault]);
  return (
    <div
      className={toast.fault ? styles.fault : styles.toast}
      onPointerEnter={() => setHeld(true)}
      onPointerLeave={() => setHeld(false)}
      onFocus={() => setHeld(true)}
      onBlur={() => setHeld(false)}
    >
      <span>{toast.text}</span>
      {act && (
        <button
          type="button"
          className="link"
          onClick={() => {
            dismissToast(id);
            act.run();
          }}
        >
          {act.label}
        </button>
      )}
      <button
        type="button"
        className={styles.close}
        aria-label="Close"
        onClick={() => dismissToast(id)}
      >
        <X size={14} aria-hidden="true" />
      </button>
    </div>
  );
}
