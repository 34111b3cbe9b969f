import type { DensityShown } from '@rook-scale/core/families';
import { showPercent } from '../../../browser/format.ts';
import { drawingWidth } from './Curves.tsx';
import { dodged } from './dodge.ts';
import styles from './Densities.module.css';

const rowHeight = 15;
const nameWidth = 112;
const nameLength = 18;

/** Shares of a predictor's levels: of a yes/no outcome dot and ring, else letters. */
export function Shares({ input, isEvent }: { input: DensityShown; isEvent: boolean }) {
  const levels = input.levels!;
  const shares = input.shares!;
  const most = Math.max(...shares.flat());
  const x = (share: number) => nameWidth + (share / most) * (drawingWidth - nameWidth - 8);
  const said = levels
    .map((level, k) => `${level}: ${shares.map((own) => showPercent(own[k])).join(', ')}`)
    .join('; ');
  return (
    <svg
      viewBox={`0 0 ${drawingWidth} ${levels.length * rowHeight + 2}`}
      role="img"
      aria-label={`Shares of levels: ${said}`}
    >
      {levels.map((level, k) => {
        const y = k * rowHeight + rowHeight / 2;
        const places = shares.map((own) => x(own[k]));
        const letters = dodged(places, 9);
        return (
          <g key={level}>
            <text x={0} y={y + 4} className={styles.name}>
              {level.length > nameLength ? `${level.slice(0, nameLength - 1)}…` : level}
            </text>
            <line x1={nameWidth} x2={drawingWidth} y1={y} y2={y} className={styles.axis} />
            {shares.map((own, outcome) =>
              isEvent ? (
                <circle
                  key={outcome}
                  cx={places[outcome]}
                  cy={y}
                  r={4}
                  className={outcome === 1 ? styles.dot : styles.ring}
                >
                  <title>{showPercent(own[k])}</title>
                </circle>
              ) : (
                <text
                  key={outcome}
                  x={letters[outcome]}
                  y={y + 4}
                  textAnchor="middle"
                  className={styles.letter}
                >
                  {String.fromCharCode(65 + outcome)}
                  <title>{showPercent(own[k])}</title>
                </text>
              ),
            )}
          </g>
        );
      })}
    </svg>
  );
}
