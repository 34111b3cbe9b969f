import { useEffect, useState } from 'react';
import { Notice } from '../../components/index.ts';
import styles from './Survey.module.css';

/** What stands in place of a view that is being worked out: nothing at first, then a quiet word. */
export function Waiting({ problem, what }: { problem?: string; what: string }) {
  const [seconds, setSeconds] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => setSeconds((now) => now + 1), 1000);
    return () => clearInterval(timer);
  }, []);
  if (problem) return <Notice>{problem}</Notice>;
  return (
    <p className={styles.waiting} role="status">
      {seconds > 0 &&
        `Working out ${what}: ${seconds} s. You can leave this page; it is kept when it is done.`}
    </p>
  );
}
