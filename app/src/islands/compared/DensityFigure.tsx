import { showDigits } from '../../browser/numbers.ts';
import { drawn } from '../../components/drawn.ts';
import { SvgFigure, frame, ticksOf } from '../../components/index.ts';
import type { DrawnCurves } from './drawn-curves.ts';
import drawing from '../../components/drawing.module.css';
import styles from './Compared.module.css';

const rowHeight = 62;
const reach = 26;

/** How far apart each candidate puts cases and others: facing densities on one ruler. */
export function DensityFigure({ all, whose }: { all: DrawnCurves[]; whose: string }) {
  const { width, left, right } = frame;
  const from = Math.min(...all.map(({ curves }) => curves.density.grid[0]));
  const to = Math.max(...all.map(({ curves }) => curves.density.grid.at(-1)!));
  const x = (score: number) => left + ((score - from) / (to - from)) * (width - left - right);
  const height = all.length * rowHeight + 34;
  return (
    <SvgFigure
      title="Where cases and others lie"
      caption={`Cases above, others below, ${whose}; each side has the same area, each row its own height. The upright is the cutoff.`}
      fileName="densities"
      width={width}
      height={height}
      numbers={() => [
        ['candidate', 'score', 'cases', 'others'],
        ...all.flatMap(({ line, curves: { density } }) =>
          density.grid.map((score, i) => [line.name, score, density.event[i], density.none[i]]),
        ),
      ]}
    >
      {all.map(({ letter, line, curves: { density } }, row) => {
        const middle = row * rowHeight + rowHeight / 2;
        const most = Math.max(...density.event, ...density.none);
        const side = (values: number[], sign: 1 | -1) =>
          `M${x(density.grid[0])},${middle}${values
            .map(
              (value, i) =>
                `L${drawn(x(density.grid[i]))},${drawn(middle - (sign * reach * value) / most)}`,
            )
            .join('')}L${x(density.grid.at(-1)!)},${middle}Z`;
        const cutoff = line.results?.cutoff;
        return (
          <g key={letter}>
            <text x={left - 24} y={middle + 5} className={styles.letter}>
              {letter}
            </text>
            <path d={side(density.event, 1)} className={styles.cases} />
            <path d={side(density.none, -1)} className={styles.others} />
            <line x1={left} x2={width - right} y1={middle} y2={middle} className={drawing.axis} />
            {cutoff !== undefined && cutoff >= from && cutoff <= to && (
              <line
                x1={x(cutoff)}
                x2={x(cutoff)}
                y1={middle - reach}
                y2={middle + reach}
                className={styles.cutoff}
              />
            )}
          </g>
        );
      })}
      {ticksOf({ name: '', from, to }).map((tick) => (
        <text key={tick} x={x(tick)} y={height - 14} textAnchor="middle" className={drawing.tick}>
          {showDigits(tick, 4)}
        </text>
      ))}
    </SvgFigure>
  );
}
