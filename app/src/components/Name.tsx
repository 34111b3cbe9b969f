import styles from './Name.module.css';

/** Characters at the end that are kept in sight: long names of one table often differ only there. */
const tail = 9;

/** The name of a column, cut in its middle where there is no room; the title has it whole. */
export function Name({ text, title = text }: { text: string; title?: string }) {
  if (text.length <= 2 * tail) return <span title={title}>{text}</span>;
  const cut = text.length - tail;
  return (
    <span className={styles.name} title={title}>
      <span className={styles.start}>{text.slice(0, cut)}</span>
      <span className={styles.end}>{text.slice(cut)}</span>
    </span>
  );
}
