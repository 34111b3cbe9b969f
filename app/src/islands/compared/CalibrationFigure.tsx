import { SvgFigure, Axes, frame, pathThrough, placesIn } from '../../components/index.ts';
import type { DrawnCurves } from './drawn-curves.ts';
import { Letter } from './Letter.tsx';
import styles from './Compared.module.css';

/** Observed shares against the risks that were told, in groups of as many patients each. */
export function CalibrationFigure({ all }: { all: DrawnCurves[] }) {
  const groups = all.flatMap(({ curves }) => curves.calibration!);
  const most = Math.max(...groups.flatMap(({ told, interval }) => [told, interval[1]]));
  const to = Math.min(1, Math.ceil(10 * most) / 10);
  const across = { name: 'risk told', from: 0, to };
  const up = { name: 'share of cases', from: 0, to };
  const places = placesIn(across, up);
  const { x, y } = places;
  const count = Math.max(...all.map(({ curves }) => curves.calibration!.length));
  return (
    <SvgFigure
      title="Calibration"
      caption={`Share of cases against mean risk, in ${count} groups of as many patients each, with 95% intervals. On the dotted line risks are true.`}
      fileName="calibration"
      width={frame.width}
      height={frame.height}
      numbers={() => [
        ['candidate', 'mean risk', 'share of cases', 'lower', 'upper', 'patients'],
        ...all.flatMap(({ line, curves }) =>
          curves.calibration!.map(({ told, found, interval, patients }) => [
            line.name,
            told,
            found,
            ...interval,
            patients,
          ]),
        ),
      ]}
    >
      <Axes across={across} up={up} />
      <line x1={x(0)} y1={y(0)} x2={x(to)} y2={y(to)} className={styles.none} />
      {all.map(({ letter, colour, dash, curves }) => (
        <g key={letter}>
          <path
            d={pathThrough(
              curves.calibration!.map(({ told, found }) => [told, found]),
              places,
            )}
            className={styles.curve}
            stroke={colour}
            strokeDasharray={dash}
          />
          {curves.calibration!.map(({ told, found, interval }) => (
            <g key={told}>
              <line
                x1={x(told)}
                x2={x(told)}
                y1={y(Math.min(to, interval[1]))}
                y2={y(interval[0])}
                stroke={colour}
                strokeWidth="1"
                opacity="0.55"
              />
              <circle cx={x(told)} cy={y(found)} r={2.6} fill={colour} />
            </g>
          ))}
        </g>
      ))}
      {all.map(({ letter, colour, curves }) => {
        const end = curves.calibration!.at(-1);
        return (
          end && <Letter key={letter} x={x(end.told)} y={y(end.found)} {...{ letter, colour }} />
        );
      })}
    </SvgFigure>
  );
}
