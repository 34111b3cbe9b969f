import {
  SvgFigure,
  Axes,
  frame,
  pathThrough,
  placesIn,
  type Axis,
} from '../../components/index.ts';
import type { DrawnCurves } from './drawn-curves.ts';
import { Letter } from './Letter.tsx';
import styles from './Compared.module.css';

interface Props {
  all: DrawnCurves[];
  of: 'roc' | 'precision' | 'cost';
  title: string;
  caption: string;
  /** What is left out follows from the curves. */
  across: Omit<Axis, 'from' | 'to'> & Partial<Axis>;
  up: Omit<Axis, 'from' | 'to'> & Partial<Axis>;
  /** What no knowledge gives. */
  rule?: [number, number][];
}

/** One curve of each candidate on one chart. */
export function CurveFigure({ all, of, title, caption, across, up, rule }: Props) {
  const points = all.flatMap(({ curves }) => curves[of]);
  const range = (k: 0 | 1): [number, number] => {
    const values = points.map((point) => point[k]);
    const [least, most] = [Math.min(...values), Math.max(...values)];
    return most > least ? [least, most] : [least - 1, least + 1];
  };
  const axisOf = (given: Props['across'], k: 0 | 1): Axis => {
    const [from, to] = range(k);
    return { from, to, ...given };
  };
  const [horizontal, vertical] = [axisOf(across, 0), axisOf(up, 1)];
  const places = placesIn(horizontal, vertical);
  const { x, y } = places;
  return (
    <SvgFigure
      title={title}
      caption={caption}
      fileName={title.toLowerCase().replaceAll(' ', '-')}
      width={frame.width}
      height={frame.height}
      numbers={() => [
        ['candidate', horizontal.name, vertical.name],
        ...all.flatMap(({ line, curves }) => curves[of].map((point) => [line.name, ...point])),
      ]}
    >
      <Axes across={horizontal} up={vertical} />
      {rule && <path d={pathThrough(rule, places)} className={styles.none} />}
      {all.map(({ letter, colour, dash, curves }) => (
        <path
          key={letter}
          d={pathThrough(curves[of], places)}
          className={styles.curve}
          stroke={colour}
          strokeDasharray={dash}
        />
      ))}
      {all.map(({ letter, colour, curves }, i) => {
        const place = placeAlong(curves[of], (i + 1) / (all.length + 1), horizontal, vertical);
        return (
          place && <Letter key={letter} x={x(place[0])} y={y(place[1])} {...{ letter, colour }} />
        );
      })}
    </SvgFigure>
  );
}

/** The point at a share of a curve's length: letters of curves that meet at both ends stand apart. */
function placeAlong(
  points: [number, number][],
  share: number,
  across: Axis,
  up: Axis,
): [number, number] | undefined {
  const steps = points.map((point, i) =>
    i === 0
      ? 0
      : Math.hypot(
          (point[0] - points[i - 1][0]) / (across.to - across.from),
          (point[1] - points[i - 1][1]) / (up.to - up.from),
        ),
  );
  const length = steps.reduce((sum, step) => sum + step, 0);
  let gone = 0;
  for (const [i, step] of steps.entries()) {
    gone += step;
    if (i === 0 || gone < share * length) continue;
    const back = step > 0 ? (gone - share * length) / step : 0;
    return [
      points[i][0] - back * (points[i][0] - points[i - 1][0]),
      points[i][1] - back * (points[i][1] - points[i - 1][1]),
    ];
  }
  return points.at(-1);
}
