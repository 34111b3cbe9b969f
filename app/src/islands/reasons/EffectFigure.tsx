import { useId } from 'react';
import type { EffectView } from '../../contract/reasons.ts';
import { plural } from '../../browser/format.ts';
import { Axes, frame, pathThrough, placesIn, SvgFigure } from '../../components/index.ts';
import styles from './Reasons.module.css';

/** Height of the bars that say where patients are. */
const barsHeight = 28;

/** The mean of what is said along a predictor, single patients' curves behind, and what was observed. */
export function EffectFigure({
  found,
  label,
  unit,
}: {
  found: EffectView;
  label: string;
  unit: string;
}) {
  const clip = useId();
  const { at, mean, curves, accumulated, bands, levels, outcome, cutoff } = found;
  const isShare = outcome.choice.kind !== 'number';
  const inView = [
    ...mean,
    ...(accumulated?.said ?? []),
    ...bands.flatMap(({ observed, interval }) => [observed, ...(interval ?? [])]),
  ].filter((value): value is number => value !== undefined && Number.isFinite(value));
  const up = {
    name: isShare
      ? 'risk'
      : [outcome.label || outcome.choice.column, outcome.unit].filter(Boolean).join(', '),
    ...rangeOf(inView, isShare),
  };
  const across = {
    name: [label, unit].filter(Boolean).join(', '),
    ...(levels ? { from: -0.5, to: levels.length - 0.5 } : spread(at[0], at[at.length - 1])),
  };
  const places = placesIn(across, up);
  const { x, y } = places;
  const within = (value: number) => Math.min(up.to, Math.max(up.from, value));
  const points = (values: number[], along = at) =>
    values.map((value, k) => [along[k], within(value)] as const);
  const middleOf = ({ from, to, level }: EffectView['bands'][number]) =>
    level === undefined ? (from! + to!) / 2 : levels!.indexOf(level);
  // Along a number as many patients as the width of the band lets one expect.
  const widthOf = ({ from, to }: EffectView['bands'][number]) =>
    levels ? 0.6 * (x(1) - x(0)) : Math.max(2, x(to!) - x(from!) - 1);
  const tallOf = (band: EffectView['bands'][number]) =>
    levels ? band.patients : band.patients / widthOf(band);
  const most = Math.max(1e-9, ...bands.map(tallOf));
  const height = frame.height + barsHeight;
  return (
    <SvgFigure
      title={label}
      caption={`The line is the mean of what is said of ${plural(found.averaged, 'patient')}, were all of them there, thin lines are single patients${accumulated ? '; the dashed line moves only patients who are near (accumulated local effects)' : ''}. Dots with 95% intervals are what was observed, the level line is the cutoff. Below, where patients are.`}
      fileName={`effect-of-${found.name}`}
      width={frame.width}
      height={height}
      numbers={() => [
        [found.name, 'mean said'],
        ...at.map((place, k) => [levels ? levels[place] : place, mean[k]]),
        ...(accumulated
          ? [
              [found.name, 'accumulated local effect'],
              ...accumulated.at.map((place, k) => [place, accumulated.said[k]]),
            ]
          : []),
        [found.name, 'patients', 'observed', 'lower', 'upper'],
        ...bands.map((band) => [
          band.level ?? `${band.from} to ${band.to}`,
          band.patients,
          band.observed ?? '',
          ...(band.interval ?? ['', '']),
        ]),
      ]}
    >
      <Axes
        across={across}
        up={up}
        ticksAcross={levels && levels.map((word, at) => ({ at, word: short(word, levels.length) }))}
      />
      {cutoff >= up.from && cutoff <= up.to && (
        <line
          x1={frame.left}
          x2={frame.width - frame.right}
          y1={y(cutoff)}
          y2={y(cutoff)}
          className={styles.cutoff}
        />
      )}
      <clipPath id={clip}>
        <rect
          x={frame.left}
          y={y(up.to)}
          width={frame.width - frame.left - frame.right}
          height={y(up.from) - y(up.to)}
        />
      </clipPath>
      {!levels && (
        // What lies beyond is left out, not drawn along the edge.
        <g clipPath={`url(#${clip})`}>
          {curves.map((own, i) => (
            <path
              key={i}
              d={pathThrough(
                own.map((value, k) => [at[k], value] as const),
                places,
              )}
              className={styles.single}
            />
          ))}
        </g>
      )}
      {accumulated && (
        <path
          d={pathThrough(points(accumulated.said, accumulated.at), places)}
          className={styles.summed}
        />
      )}
      {!levels && <path d={pathThrough(points(mean), places)} className={styles.curve} />}
      {bands.map((band) => {
        if (band.observed === undefined) return null;
        const place = x(middleOf(band)) + (levels ? 6 : 0);
        return (
          <g key={band.level ?? band.from}>
            {band.interval && (
              <line
                x1={place}
                x2={place}
                y1={y(within(band.interval[0]))}
                y2={y(within(band.interval[1]))}
                className={styles.whisker}
              />
            )}
            <circle cx={place} cy={y(within(band.observed))} r={3} className={styles.dot} />
          </g>
        );
      })}
      {levels &&
        at.map((place, k) => (
          <circle
            key={place}
            cx={x(place) - 6}
            cy={y(within(mean[k]))}
            r={4}
            className={styles.said}
          />
        ))}
      {bands.map((band) => {
        const width = widthOf(band);
        const tall = (barsHeight * tallOf(band)) / most;
        return (
          <rect
            key={band.level ?? band.from}
            x={levels ? x(middleOf(band)) - width / 2 : x(band.from!)}
            y={height - tall}
            width={width}
            height={tall}
            className={styles.patients}
          />
        );
      })}
    </SvgFigure>
  );
}

const spread = (from: number, to: number) =>
  to > from ? { from, to } : { from: from - 1, to: to + 1 };

/** Shares begin at 0. */
function rangeOf(values: number[], isShare: boolean): { from: number; to: number } {
  const [least, most] = [Math.min(...values), Math.max(...values)];
  if (isShare) return { from: 0, to: Math.min(1, Math.max(0.1, Math.ceil(10 * most) / 10)) };
  return spread(least, most);
}

/** As many letters as have room. */
function short(word: string, count: number): string {
  const room = Math.max(3, Math.floor(44 / count));
  return word.length > room ? `${word.slice(0, room - 1)}…` : word;
}
