import { roundDigits, showDigits } from '../browser/numbers.ts';
import { drawn } from './drawn.ts';
import drawing from './drawing.module.css';

export interface Axis {
  name: string;
  from: number;
  to: number;
}

export const frame = { width: 380, height: 300, left: 52, right: 16, top: 26, bottom: 44 };

/** Where a value lies in the drawing. */
export function placesIn(across: Axis, up: Axis) {
  const { width, height, left, right, top, bottom } = frame;
  const share = ({ from, to }: Axis, value: number) => (value - from) / (to - from);
  return {
    x: (value: number) => left + share(across, value) * (width - left - right),
    y: (value: number) => height - bottom - share(up, value) * (height - top - bottom),
  };
}

/** A line through places of the drawing. */
export const pathThrough = (
  points: (readonly [number, number])[],
  { x, y }: ReturnType<typeof placesIn>,
): string =>
  points
    .map(([across, up], i) => `${i === 0 ? 'M' : 'L'}${drawn(x(across))},${drawn(y(up))}`)
    .join('');

/** Two axes with ticks at round numbers. */
export function Axes({
  across,
  up,
  ticksAcross,
}: {
  across: Axis;
  up: Axis;
  /** Where it is not of round numbers. */
  ticksAcross?: { at: number; word: string }[];
}) {
  const { width, height, left, right, bottom } = frame;
  const { x, y } = placesIn(across, up);
  return (
    <>
      {ticksOf(up).map((tick) => (
        <g key={tick}>
          <line x1={left} x2={width - right} y1={y(tick)} y2={y(tick)} className={drawing.rule} />
          <text x={left - 8} y={y(tick) + 4} textAnchor="end" className={drawing.tick}>
            {show(tick)}
          </text>
        </g>
      ))}
      {(ticksAcross ?? ticksOf(across).map((at) => ({ at, word: show(at) }))).map(
        ({ at, word }) => (
          <text
            key={at}
            // The last one may be too long to stand in the middle of the edge.
            x={at === across.to ? Math.min(width, x(at) + 4 * word.length) : x(at)}
            y={height - bottom + 17}
            textAnchor={at === across.to ? 'end' : 'middle'}
            className={drawing.tick}
          >
            {word}
          </text>
        ),
      )}
      <line
        x1={left}
        x2={width - right}
        y1={height - bottom}
        y2={height - bottom}
        className={drawing.axis}
      />
      <text x={left} y={height - 8} className={drawing.axisName}>
        {across.name}
      </text>
      <text x={0} y={12} className={drawing.axisName}>
        {up.name}
      </text>
    </>
  );
}

/** Round numbers in a range, about five. */
export function ticksOf({ from, to }: Axis): number[] {
  const rough = (to - from) / 5;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = power * ([1, 2, 2.5, 5].find((one) => rough / power <= one * 1.001) ?? 10);
  const first = Math.ceil(from / step - 1e-9);
  return Array.from({ length: Math.floor(to / step + 1e-9) - first + 1 }, (_, i) =>
    roundDigits((first + i) * step, 10),
  );
}

const show = (value: number) => showDigits(value, 4);
