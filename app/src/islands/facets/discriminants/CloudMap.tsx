import type { DiscriminantsShown } from '@rook-scale/core/families';
import { plural } from '../../../browser/format.ts';
import { drawn } from '../../../components/drawn.ts';
import { Glyph, SvgFigure, type Mark } from '../../../components/index.ts';
import { short } from '../ensemble/words.ts';
import styles from './Discriminants.module.css';

const side = 340;
const edge = 18;
/** Within it lie 95 of 100 of a normal cloud of two directions. */
const radius = 2.448;

interface Props {
  shown: DiscriminantsShown;
  map: NonNullable<DiscriminantsShown['map']>;
  marks: Mark[];
  /** Clouds have a shape of their own each. */
  bent: boolean;
  name: string;
}

/** Patients, clouds and borders of the levels along the first two directions, in which a cloud is round. */
export function CloudMap({ shown: { levels, directions }, map, marks, bent, name }: Props) {
  const [across, up] = directions.map(({ means }) => means);
  const { patients, borders } = map;
  const scale = (side - 2 * edge) / Math.max(map.across[1] - map.across[0], map.up[1] - map.up[0]);
  const middle = ([from, to]: [number, number]) => (from + to) / 2;
  const x = (value: number) => side / 2 + (value - middle(map.across)) * scale;
  const y = (value: number) => side / 2 - (value - middle(map.up)) * scale;
  const path = borders
    .map(([a, b, c, d]) => `M${drawn(x(a))} ${drawn(y(b))}L${drawn(x(c))} ${drawn(y(d))}`)
    .join('');
  const rest =
    directions.length > 2 || bent ? ', where all else is as usual for patients at that place' : '';
  return (
    <SvgFigure
      title="Map of the levels"
      caption={`${plural(patients.length, 'development patient')}; lines: two levels are as likely${rest}. Letters at the means${bent ? '' : ', circles hold 95 of 100 patients of a level if it is normal'}.`}
      numbers={() => [
        ['direction 1', 'direction 2', 'level'],
        ...patients.map(({ at, level }) => [...at, levels[level]]),
      ]}
      fileName={`${name}-map`}
      width={side}
      height={side}
    >
      {patients.map(({ at, level }, i) => (
        <g key={i} opacity={0.65}>
          <Glyph mark={marks[level]} x={x(at[0])} y={y(at[1])} size={2.6} />
        </g>
      ))}
      <path d={path} className={styles.border} />
      {levels.map((level, k) => (
        <g key={level}>
          {!bent && (
            <circle cx={x(across[k])} cy={y(up[k])} r={radius * scale} className={styles.cloud} />
          )}
          <circle cx={x(across[k])} cy={y(up[k])} r={9} className={styles.plate} />
          <text x={x(across[k])} y={y(up[k]) + 4.5} textAnchor="middle" className={styles.letter}>
            {String.fromCharCode(65 + k)}
          </text>
        </g>
      ))}
      <text x={side - 2} y={side - 4} textAnchor="end" className={styles.tick}>
        direction 1, {short(map.across[0])} to {short(map.across[1])}
      </text>
      <text x={2} y={12} className={styles.tick}>
        direction 2, {short(map.up[0])} to {short(map.up[1])}
      </text>
    </SvgFigure>
  );
}
