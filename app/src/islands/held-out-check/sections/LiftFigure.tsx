import { useMemo, useState } from 'react';
import { liftAmong } from '@rook-scale/core/measures';
import { plural, showPercent } from '../../../browser/format.ts';
import { roundTo, showExact, showFixed } from '../../../browser/numbers.ts';
import {
  Axes,
  frame,
  NumberField,
  pathThrough,
  placesIn,
  SvgFigure,
} from '../../../components/index.ts';
import { casesIn, type SectionProps } from './section.ts';
import styles from './Sections.module.css';

/** Places at which cases found are worked out. */
const steps = 200;

/** Of so many patients most at risk, how many are cases. */
export function LiftFigure({ patients, words }: SectionProps) {
  const { ranked } = patients;
  const all = ranked.patients;
  const [asked, setAsked] = useState(Math.max(1, Math.min(100, Math.round(all / 10))));
  const points = useMemo(
    () =>
      Array.from({ length: steps + 1 }, (_, i) => liftAmong(ranked, (i * all) / steps)).map(
        (one) => [one.patients, one.cases] as const,
      ),
    [ranked, all],
  );
  const lift = liftAmong(ranked, asked);
  const { cases } = casesIn(words);
  const [across, up] = [
    { name: 'patients, those most at risk first', from: 0, to: all },
    { name: `of them ${cases}`, from: 0, to: ranked.events },
  ];
  const places = placesIn(across, up);
  return (
    <SvgFigure
      title="Lift"
      caption={`Among the ${plural(lift.patients, 'patient')} most at risk ${showExact(roundTo(lift.cases, 1))} are ${cases}, ${showPercent(lift.share)} of all, ${showFixed(lift.times, 1)} times as many as among as many drawn by chance (dotted).`}
      fileName="lift"
      width={frame.width}
      height={frame.height}
      controls={
        <span className={styles.inLine}>
          <NumberField
            label="Most at risk"
            value={asked}
            least={1}
            most={all}
            whole
            onChange={setAsked}
          />
        </span>
      }
      numbers={() => [['patients', 'cases'], ...points.map((point) => [...point])]}
    >
      <Axes across={across} up={up} />
      <path
        d={pathThrough(
          [
            [0, 0],
            [all, ranked.events],
          ],
          places,
        )}
        className={styles.plain}
      />
      <path d={pathThrough(points, places)} className={styles.curve} />
      <path
        d={pathThrough(
          [
            [lift.patients, 0],
            [lift.patients, lift.cases],
          ],
          places,
        )}
        className={styles.marker}
      />
      <circle
        cx={places.x(lift.patients)}
        cy={places.y(lift.cases)}
        r={4.5}
        className={styles.marker}
        fill="#ffffff"
      />
    </SvgFigure>
  );
}
