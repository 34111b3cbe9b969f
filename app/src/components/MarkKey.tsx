import { Glyph } from './Glyph.tsx';
import type { Mark } from './marks.ts';
import styles from './MarkKey.module.css';

/** Which mark stands for which level; with letters, where the levels have some in the drawing. */
export function MarkKey({
  marks,
  name,
  lettered = false,
}: {
  marks: Mark[];
  name?: string;
  lettered?: boolean;
}) {
  return (
    <p className={styles.key}>
      {name !== undefined && `${name}:`}
      {marks.map((mark, k) => (
        <span key={mark.level}>
          <svg width="12" height="12" aria-hidden="true">
            <Glyph mark={mark} x={6} y={6} size={4} />
          </svg>
          {lettered && <strong>{String.fromCharCode(65 + k)}</strong>}
          {mark.level}
        </span>
      ))}
    </p>
  );
}
