import styles from './Name.module.css';

/** Characters at the end that are kept in sight: long names of one table often differ only there. */
const tail = 9;

/** The name of a column, cut in its middle where there is no room; the title has it whole. */
export function Name({ text, title = text }: { text: string; title?: string }) {
  if (text.length <= 2 * tail) return <span title={title}>{text}</span>;
  const cut = text.length - tail;
  return (
    <span className={styles.name} title={title}>
      {/* Read and copied as one: two parts side by side would be two words. */}
      <span className="hidden">{text}</span>
      <span className={styles.start} data-text={text.slice(0, cut)} aria-hidden="true" />
      <span className={styles.end} data-text={text.slice(cut)} aria-hidden="true" />
    </span>
  );
}
