import type { Interval } from '@rook-scale/core/measures';
import styles from './IntervalStrip.module.css';

interface Props {
  value?: number;
  interval?: Interval;
  /** Ends of the ruler, 0 and 1 when left out. */
  from?: number;
  to?: number;
  /** A value to compare with, drawn as a dashed line. */
  beside?: number;
  ticks?: number[];
}

/** A value and its interval as dot and line on a small ruler. The figures stand beside it, so it is hidden from readers. */
export function IntervalStrip({ value, interval, from = 0, to = 1, beside, ticks }: Props) {
  const place = (x: number) => 100 * Math.min(1, Math.max(0, (x - from) / (to - from)));
  const marks = ticks ?? [0, 0.25, 0.5, 0.75, 1].map((share) => from + share * (to - from));
  return (
    <svg
      className={styles.strip}
      viewBox="-2 0 104 18"
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      <line x1="0" x2="100" y1="14" y2="14" className={styles.ruler} />
      {marks.map((tick) => (
        <line
          key={tick}
          x1={place(tick)}
          x2={place(tick)}
          y1="11"
          y2="14"
          className={styles.ruler}
        />
      ))}
      {beside !== undefined && (
        <line x1={place(beside)} x2={place(beside)} y1="1" y2="14" className={styles.beside} />
      )}
      {interval && (
        <line
          x1={place(interval[0])}
          x2={place(interval[1])}
          y1="7"
          y2="7"
          className={styles.interval}
        />
      )}
      {value !== undefined && (
        <line x1={place(value)} x2={place(value)} y1="7" y2="7" className={styles.value} />
      )}
    </svg>
  );
}
