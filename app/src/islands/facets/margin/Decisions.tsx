import type { MarginShown } from '@rook-scale/core/families';
import { Facing, drawingWidth, facingHeight } from '../densities/index.ts';
import styles from './Margin.module.css';

/** Decision values of both sides face to face, with the border and the ends of the margin. */
export function Decisions({ machine }: { machine: MarginShown['machines'][number] }) {
  const [from, to] = machine.at!;
  const x = (value: number) => ((value - from) / (to - from)) * drawingWidth;
  const marks = [-1, 0, 1].filter((value) => value > from && value < to);
  return (
    <Facing input={{ input: '', apart: 0, at: machine.at!, densities: machine.densities! }}>
      {marks.map((value) => (
        <g key={value}>
          <line
            x1={x(value)}
            x2={x(value)}
            y1={2}
            y2={facingHeight}
            className={value === 0 ? styles.border : styles.end}
          />
          <text x={x(value)} y={facingHeight + 12} textAnchor="middle" className={styles.tick}>
            {value === -1 ? '−1' : value}
          </text>
        </g>
      ))}
    </Facing>
  );
}
