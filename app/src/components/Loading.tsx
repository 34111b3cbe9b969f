import styles from './Loading.module.css';

/** What stands in place of something that is being fetched; not seen where it comes at once. */
export const Loading = ({ what }: { what: string }) => (
  <p className={`quiet ${styles.loading}`} aria-live="polite">
    Loading {what}
  </p>
);
