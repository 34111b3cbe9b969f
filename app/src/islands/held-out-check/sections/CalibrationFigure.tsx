import type { Calibration } from '@rook-scale/core/measures';
import { Axes, frame, pathThrough, placesIn, SvgFigure } from '../../../components/index.ts';
import type { SectionProps } from './section.ts';
import styles from './Sections.module.css';

/** Bars of the distribution of risks, and how high the highest is. */
const bars = { count: 40, height: 34 };

/** Observed shares against risks: in groups, as a smooth curve, and where the patients are. */
export function CalibrationFigure({
  found: { groups, smooth },
  patients: { risks, events },
}: {
  found: Calibration;
  patients: SectionProps['patients'];
}) {
  const ends = [
    ...groups.flatMap(({ told, interval }) => [told, interval[1]]),
    ...(smooth ?? []).map(({ told, found }) => Math.max(told, found)),
  ];
  const to = Math.min(1, Math.max(0.1, Math.ceil(10 * Math.max(...ends)) / 10));
  const [across, up] = [
    { name: 'risk told', from: 0, to },
    { name: 'share of cases', from: 0, to },
  ];
  const places = placesIn(across, up);
  const { x, y } = places;
  const curve = smooth
    ?.filter(({ told }) => told <= to)
    .map(({ told, found }) => [told, Math.min(to, Math.max(0, found))] as const);
  const base = frame.height;
  const height = frame.height + 2 * bars.height + 12;
  return (
    <SvgFigure
      title="Calibration"
      caption={`Share of cases against risk: dots are ${groups.length} groups of as many patients each, with 95% intervals${curve ? '; the line is smooth' : ''}. On the dotted line risks are true. Below, where cases (up) and others (down) lie.`}
      fileName="calibration"
      width={frame.width}
      height={height}
      numbers={() => [
        ['mean risk', 'share of cases', 'lower', 'upper', 'patients'],
        ...groups.map(({ told, found, interval, patients }) => [
          told,
          found,
          ...interval,
          patients,
        ]),
        ...(smooth ? [['risk', 'smooth share']] : []),
        ...(smooth ?? []).map(({ told, found }) => [told, found]),
      ]}
    >
      <Axes across={across} up={up} />
      <path
        d={pathThrough(
          [
            [0, 0],
            [to, to],
          ],
          places,
        )}
        className={styles.plain}
      />
      {curve && <path d={pathThrough(curve, places)} className={styles.curve} />}
      {groups.map(({ told, found, interval }, i) => (
        <g key={i}>
          <line
            x1={x(told)}
            x2={x(told)}
            y1={y(Math.min(to, interval[1]))}
            y2={y(interval[0])}
            className={styles.whisker}
          />
          <circle cx={x(told)} cy={y(found)} r={3} className={styles.dot} />
        </g>
      ))}
      <Distribution {...{ risks, events, to, x }} middle={base + bars.height} />
    </SvgFigure>
  );
}

function Distribution({
  risks,
  events,
  to,
  x,
  middle,
}: Pick<SectionProps['patients'], 'risks' | 'events'> & {
  to: number;
  x: (risk: number) => number;
  middle: number;
}) {
  const counts = [0, 1].map(() => new Float64Array(bars.count));
  for (let i = 0; i < risks.length; i++) {
    const bar = Math.floor((risks[i] / to) * bars.count);
    if (bar < bars.count) counts[events[i] ? 1 : 0][bar]++;
  }
  const width = x(to / bars.count) - x(0);
  // Each side has a height of its own: on one scale the rarer outcome would be a flat line.
  const most = counts.map((side) => Math.max(1, ...side));
  return (
    <>
      {counts.map((side, event) =>
        Array.from(side, (count, bar) => {
          const height = (bars.height * count) / most[event];
          return (
            count > 0 && (
              <rect
                key={`${event} ${bar}`}
                x={x((bar * to) / bars.count)}
                y={event ? middle - height : middle}
                width={width - 1}
                height={height}
                className={event ? styles.cases : styles.others}
              />
            )
          );
        }),
      )}
    </>
  );
}
