import type { TermsShown } from '@rook-scale/core/families';
import { showP } from '../../../browser/format.ts';
import { roundTo, showExact, showFixed } from '../../../browser/numbers.ts';
import { drawn } from '../../../components/drawn.ts';
import { short } from '../ensemble/words.ts';
import styles from './Terms.module.css';

export const panelWidth = 286;
export const panelHeight = 176;
const [left, right, top, bottom] = [46, 14, 36, 20];

interface Props {
  curve: TermsShown['curves'][number];
  name: string;
  /** From the scale of the input to that of its column. */
  place: (value: number) => number;
  /** How far the common scale goes to both sides of 0. */
  reach: number;
}

/** One curve with its band, the straight line beside it, and where patients are. */
export function CurvePanel({ curve, name, place, reach }: Props) {
  const { at, values, error, line, deciles } = curve;
  const [low, high] = [at[0], at[at.length - 1]];
  const x = (value: number) => left + ((value - low) / (high - low)) * (panelWidth - left - right);
  const y = (value: number) => top + ((reach - value) / (2 * reach)) * (panelHeight - top - bottom);
  const point = (k: number, value: number) => `${drawn(x(at[k]))} ${drawn(y(value))}`;
  // Where patients are few the band leaves the scale.
  const within = (value: number) => Math.min(reach, Math.max(-reach, value));
  const upper = at.map((_, k) => point(k, within(values[k] + 1.96 * error[k])));
  const lower = at.map((_, k) => point(k, within(values[k] - 1.96 * error[k]))).reverse();
  return (
    <g role="img" aria-label={saidOf(curve, name, place)}>
      <text x={left} y={13} className={styles.name}>
        {name.length > 26 ? `${name.slice(0, 25)}…` : name}
      </text>
      <text x={left} y={28} className={styles.figures}>
        {factsOf(curve)}
      </text>
      <path d={`M${[...upper, ...lower].join('L')}Z`} className={styles.band} />
      <line x1={left} x2={panelWidth - right} y1={y(0)} y2={y(0)} className={styles.axis} />
      <line x1={x(low)} y1={y(line[0])} x2={x(high)} y2={y(line[1])} className={styles.straight} />
      <path d={`M${at.map((_, k) => point(k, values[k])).join('L')}`} className={styles.curve} />
      {deciles.map((decile, k) => (
        <line
          key={k}
          x1={x(decile)}
          x2={x(decile)}
          y1={panelHeight - bottom - 5}
          y2={panelHeight - bottom}
          className={styles.decile}
        />
      ))}
      {[reach, 0, -reach].map((value) => (
        <text key={value} x={left - 5} y={y(value) + 4} textAnchor="end" className={styles.tick}>
          {short(value)}
        </text>
      ))}
      <text x={left} y={panelHeight - 6} className={styles.tick}>
        {rounded(place(low), place(high) - place(low))}
      </text>
      <text x={panelWidth - right} y={panelHeight - 6} textAnchor="end" className={styles.tick}>
        {rounded(place(high), place(high) - place(low))}
      </text>
    </g>
  );
}

/** As many decimals as three figures of the range have. */
const rounded = (value: number, range: number): string =>
  showExact(roundTo(value, Math.max(0, 2 - Math.floor(Math.log10(Math.abs(range) || 1))))).replace(
    '-',
    '−',
  );

const factsOf = ({ degrees, there, bent }: Props['curve']): string =>
  `${showFixed(degrees, 1)} df · p ${showP(there.p)} · ${bent ? `bent p ${showP(bent.p)}` : 'straight'}`;

function saidOf(curve: Props['curve'], name: string, place: Props['place']): string {
  const { at, values } = curve;
  const ends = [0, at.length - 1].map((k) => `${short(values[k])} at ${short(place(at[k]))}`);
  return `${name}: adds ${ends.join(', ')}; ${factsOf(curve)}`;
}
