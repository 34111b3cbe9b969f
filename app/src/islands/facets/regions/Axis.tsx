import { cellsOf, type MapAxis } from '@rook-scale/core/families';
import { roundDigits, showExact } from '../../../browser/numbers.ts';
import styles from './Regions.module.css';

interface Props {
  axis: MapAxis;
  name: string;
  /** Where so many cells from the beginning are drawn. */
  place: (cell: number) => number;
  /** Where the axis itself is drawn. */
  at: number;
  upright?: boolean;
}

/** One side of the map: ticks at round numbers, or levels in the middle of theirs. */
export function Axis({ axis, name, place, at, upright = false }: Props) {
  const [from, to] = [place(0), place(cellsOf(axis))];
  const middle = (from + to) / 2;
  return (
    <g>
      <line
        {...(upright ? { x1: at, x2: at, y1: from, y2: to } : { x1: from, x2: to, y1: at, y2: at })}
        className={styles.axis}
      />
      {ticksOf(axis).map(({ cell, text }) =>
        upright ? (
          <text key={cell} x={at - 6} y={place(cell) + 4} textAnchor="end" className={styles.tick}>
            {text}
          </text>
        ) : (
          <text key={cell} x={place(cell)} y={at + 15} textAnchor="middle" className={styles.tick}>
            {text}
          </text>
        ),
      )}
      <text
        {...(upright
          ? { x: 12, y: middle, transform: `rotate(-90 12 ${middle})` }
          : { x: middle, y: at + 36 })}
        textAnchor="middle"
        className={styles.name}
      >
        {name}
      </text>
    </g>
  );
}

function ticksOf(axis: MapAxis): { cell: number; text: string }[] {
  if ('levels' in axis)
    return axis.levels.map((level, i) => ({
      cell: i + 0.5,
      text: level.length > 12 ? `${level.slice(0, 11)}…` : level,
    }));
  const { from, to, cells } = axis;
  const step = roundStep((to - from) / 5);
  const first = Math.ceil(from / step);
  const count = Math.floor(to / step) - first + 1;
  return Array.from({ length: count }, (_, i) => {
    const value = roundDigits((first + i) * step, 12);
    return { cell: (cells * (value - from)) / (to - from), text: showExact(value) };
  });
}

/** The next of 1, 2 and 5 times a power of ten. */
function roundStep(least: number): number {
  const power = 10 ** Math.floor(Math.log10(least));
  return power * (least / power <= 1 ? 1 : least / power <= 2 ? 2 : least / power <= 5 ? 5 : 10);
}
