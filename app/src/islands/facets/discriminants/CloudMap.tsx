import type { DiscriminantsShown } from '@rook-scale/core/families';
import styles from './Discriminants.module.css';

const size = 260;
const edge = 22;
/** Within it lie 95 of 100 of a normal cloud of two directions. */
const radius = 2.448;

/** Clouds of the levels along the first two directions, in which each is round and of unit size. */
export function CloudMap({ shown: { levels, directions } }: { shown: DiscriminantsShown }) {
  const [across, up] = directions.map(({ means }) => means);
  const middle = (means: number[]) => (Math.min(...means) + Math.max(...means)) / 2;
  const reach =
    radius + Math.max(...[across, up].map((means) => Math.max(...means) - middle(means)));
  const scale = (size - 2 * edge) / (2 * reach);
  const x = (value: number) => size / 2 + (value - middle(across)) * scale;
  const y = (value: number) => size / 2 - (value - middle(up)) * scale;
  const said = levels
    .map((level, k) => `${level} at ${across[k].toFixed(1)}, ${up[k].toFixed(1)}`)
    .join('; ');
  return (
    <figure className={styles.map}>
      <svg viewBox={`0 0 ${size} ${size}`} role="img" aria-label={`Means of levels: ${said}`}>
        {levels.map((level, k) => (
          <g key={level}>
            <circle cx={x(across[k])} cy={y(up[k])} r={radius * scale} className={styles.cloud} />
            <text x={x(across[k])} y={y(up[k]) + 4} textAnchor="middle" className={styles.letter}>
              {String.fromCharCode(65 + k)}
            </text>
          </g>
        ))}
        <text x={size - 2} y={size - 4} textAnchor="end" className={styles.tick}>
          direction 1
        </text>
        <text x={2} y={12} className={styles.tick}>
          direction 2
        </text>
      </svg>
      <figcaption>
        {levels.map((level, k) => `${String.fromCharCode(65 + k)} ${level}`).join(' · ')}; a circle
        holds 95 of 100 patients of a level, if it is normal.
      </figcaption>
    </figure>
  );
}
