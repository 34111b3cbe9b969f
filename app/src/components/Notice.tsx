import type { ReactNode } from 'react';
import styles from './Notice.module.css';

/** A sentence that needs attention; `fault` only for what went wrong. */
export function Notice({
  kind = 'fault',
  children,
}: {
  kind?: 'fault' | 'plain';
  children: ReactNode;
}) {
  return (
    <div className={styles[kind]} role={kind === 'fault' ? 'alert' : 'status'}>
      {children}
    </div>
  );
}
