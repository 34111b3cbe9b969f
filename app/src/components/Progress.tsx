import styles from './Progress.module.css';

/** A battlement that is built from left to right. */
export function Progress({ done, total, label }: { done: number; total: number; label: string }) {
  const merlons = Math.max(total, 1);
  return (
    <div
      className={styles.bar}
      role="progressbar"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={merlons}
      aria-valuenow={done}
    >
      {Array.from({ length: merlons }, (_, i) => (
        <span key={i} className={i < done ? styles.built : styles.open} />
      ))}
    </div>
  );
}
