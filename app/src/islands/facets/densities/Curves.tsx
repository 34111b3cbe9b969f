import type { ReactNode } from 'react';
import type { DensityShown } from '@rook-scale/core/families';
import { drawn } from '../../../components/drawn.ts';
import { short } from '../ensemble/words.ts';
import { dodged } from './dodge.ts';
import styles from './Densities.module.css';

export const drawingWidth = 300;
const half = 22;
export const facingHeight = 2 * half;

/** Densities of a yes/no outcome face to face on one ruler, each to its own height, and marks on it. */
export function Facing({ input, children }: { input: DensityShown; children?: ReactNode }) {
  const [without, having] = input.densities!;
  return (
    <svg viewBox={`0 0 ${drawingWidth} ${2 * half + 16}`} role="img" aria-label={saidOf(input)}>
      <path d={areaOf(having, half, -half + 2)} className={styles.having} />
      <path d={areaOf(without, half, half - 2)} className={styles.without} />
      <Ruler at={input.at!} y={half} below={2 * half + 12} />
      {children}
    </svg>
  );
}

const dashes = [undefined, '5 3', '2 3', '8 3 2 3', '1 2', '10 4'];

/** Densities of several levels as lines with letters at their tops. */
export function Curves({ input, levels }: { input: DensityShown; levels: string[] }) {
  const densities = input.densities!;
  const highest = Math.max(...densities.flat());
  const base = 2 * half;
  const y = (one: number) => base - (one / highest) * (base - 14);
  const tops = densities.map((own) => own.indexOf(Math.max(...own)));
  const letters = dodged(
    tops.map((top, level) => Number(xAt(top, densities[level].length))),
    9,
  );
  return (
    <svg viewBox={`0 0 ${drawingWidth} ${base + 16}`} role="img" aria-label={saidOf(input)}>
      {densities.map((own, level) => (
        <g key={levels[level]}>
          <path
            d={own
              .map((one, k) => `${k === 0 ? 'M' : 'L'}${xAt(k, own.length)} ${drawn(y(one))}`)
              .join('')}
            className={styles.curve}
            strokeDasharray={dashes[level % dashes.length]}
          />
          <text
            x={letters[level]}
            y={y(own[tops[level]]) - 3}
            textAnchor="middle"
            className={styles.letter}
          >
            {String.fromCharCode(65 + level)}
          </text>
        </g>
      ))}
      <Ruler at={input.at!} y={base} below={base + 12} />
    </svg>
  );
}

function Ruler({ at: [from, to], y, below }: { at: [number, number]; y: number; below: number }) {
  return (
    <>
      <line x1={0} x2={drawingWidth} y1={y} y2={y} className={styles.axis} />
      <text x={0} y={below} className={styles.tick}>
        {short(from)}
      </text>
      <text x={drawingWidth} y={below} textAnchor="end" className={styles.tick}>
        {short(to)}
      </text>
    </>
  );
}

const xAt = (k: number, count: number): string => drawn((k / (count - 1)) * drawingWidth);

function areaOf(densities: number[], base: number, height: number): string {
  const highest = Math.max(...densities, 1e-300);
  const line = densities
    .map((one, k) => `L${xAt(k, densities.length)} ${drawn(base + (one / highest) * height)}`)
    .join('');
  return `M0 ${base}${line}L${drawingWidth} ${base}Z`;
}

function saidOf({ at, means, deviations }: DensityShown): string {
  const range = `from ${short(at![0])} to ${short(at![1])}`;
  if (!means || !deviations) return `Densities ${range}`;
  const each = means.map((mean, k) => `mean ${short(mean)}, SD ${short(deviations[k])}`);
  return `Densities ${range}: ${each.join('; ')}`;
}
