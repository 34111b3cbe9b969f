import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { useState } from 'react';
import { DeletedDialog } from '../frame/index.ts';
import styles from './LostPage.module.css';

interface Props {
  title: string;
  sentence: string;
  /** Where to go on; the address is tried again when left out. */
  href?: string;
  label: string;
}

/** A page that is not there, or cannot be shown now: what happened, what is safe, what to do. */
export default function LostPage({ title, sentence, href, label }: Props) {
  const [client] = useState(() => new QueryClient());
  const [open, setOpen] = useState(false);
  return (
    <QueryClientProvider client={client}>
      <main className={styles.page}>
        <svg viewBox="0 0 16 16" width="40" height="40" aria-hidden="true">
          <path d="M1 2h3.2v3h2V2h3.6v3h2V2H15v6.2h-2V14H3V8.2H1z" />
        </svg>
        <h1>{title}</h1>
        <p>{sentence}</p>
        <p className={styles.ways}>
          {href ? (
            <>
              <a href={href}>{label}</a>
              <button type="button" className="link" onClick={() => setOpen(true)}>
                Deleted within the last day
              </button>
            </>
          ) : (
            <button type="button" className="link" onClick={() => window.location.reload()}>
              {label}
            </button>
          )}
        </p>
        {open && <DeletedDialog onClose={() => setOpen(false)} />}
      </main>
    </QueryClientProvider>
  );
}
