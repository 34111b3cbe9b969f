import type { Overview } from '../../server/studies.ts';
import { Sentence } from './Sentence.tsx';
import { StudySwitcher } from './StudySwitcher.tsx';
import styles from './TopLine.module.css';

export function TopLine({ overview }: { overview: Overview }) {
  return (
    <header className={styles.top}>
      <a className={styles.brand} href="/">
        <svg viewBox="0 0 16 16" width="18" height="18" aria-hidden="true">
          <path d="M1 2h3.2v3h2V2h3.6v3h2V2H15v6.2h-2V14H3V8.2H1z" />
        </svg>
        Rook Scale
      </a>
      <StudySwitcher overview={overview} />
      <Sentence overview={overview} />
    </header>
  );
}
