import type { Mark } from './marks.ts';

/** The mark itself, as our own drawings show it. */
export function Glyph({ mark, x, y, size }: { mark: Mark; x: number; y: number; size: number }) {
  const look = {
    fill: mark.filled ? mark.colour : '#ffffff',
    stroke: mark.colour,
    strokeWidth: 1.4,
  };
  const at = (points: [number, number][]) =>
    points.map(([dx, dy]) => `${x + dx * size},${y + dy * size}`).join(' ');
  switch (mark.shape) {
    case 'rect':
    case 'rectRounded':
      return (
        <rect
          x={x - 0.85 * size}
          y={y - 0.85 * size}
          width={1.7 * size}
          height={1.7 * size}
          rx={mark.shape === 'rect' ? 0 : 2}
          {...look}
        />
      );
    case 'triangle':
      return (
        <polygon
          points={at([
            [0, -1],
            [1, 0.8],
            [-1, 0.8],
          ])}
          {...look}
        />
      );
    case 'rectRot':
      return (
        <polygon
          points={at([
            [0, -1.1],
            [1.1, 0],
            [0, 1.1],
            [-1.1, 0],
          ])}
          {...look}
        />
      );
    case 'cross':
    case 'star':
    case 'crossRot':
      return (
        <path
          d={
            mark.shape === 'cross'
              ? `M${x - size},${y}h${2 * size}M${x},${y - size}v${2 * size}`
              : `M${x - size},${y - size}l${2 * size},${2 * size}M${x + size},${y - size}l${-2 * size},${2 * size}`
          }
          stroke={mark.colour}
          strokeWidth={1.4}
        />
      );
    default:
      return <circle cx={x} cy={y} r={size} {...look} />;
  }
}
