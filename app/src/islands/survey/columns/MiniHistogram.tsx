import type { ColumnDescription } from '@rook-scale/core/survey';
import { isCoded, type DictionaryEntry } from '@rook-scale/core/table';
import styles from './Columns.module.css';

const width = 54;
const height = 18;

/** The distribution in the size of a word; its numbers stand in the same row. */
export function MiniHistogram({
  description: { numbers, counts },
  entry,
}: {
  description: ColumnDescription;
  entry: DictionaryEntry;
}) {
  const bars = numbers ? numbers.histogram.counts : isCoded(entry.kind) ? counts : undefined;
  if (!bars || bars.length === 0) return null;
  const shown = bars.slice(0, 40);
  const most = Math.max(...shown, 1);
  const step = width / Math.max(shown.length, 3);
  const gap = numbers ? 0.4 : 2;
  return (
    <svg width={width} height={height} className={styles.mini} aria-hidden="true">
      <line x1="0" x2={width} y1={height - 0.5} y2={height - 0.5} />
      {shown.map((count, i) => {
        const tall = count === 0 ? 0 : Math.max(1, (count / most) * (height - 2));
        return (
          <rect
            key={i}
            x={i * step + gap / 2}
            y={height - 1 - tall}
            width={Math.max(0.6, step - gap)}
            height={tall}
          />
        );
      })}
    </svg>
  );
}
