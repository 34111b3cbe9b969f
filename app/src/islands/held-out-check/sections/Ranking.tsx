import { useMemo, useState } from 'react';
import {
  areaUnderCurve,
  liftAmong,
  precisionRecall,
  rocBand,
  rocPoints,
  thin,
} from '@rook-scale/core/measures';
import { plural, showCount, showPercent } from '../../../browser/format.ts';
import {
  Axes,
  frame,
  NumberField,
  pathThrough,
  placesIn,
  SvgFigure,
  type Axis,
} from '../../../components/index.ts';
import { casesIn, type SectionProps } from './section.ts';
import styles from './Sections.module.css';

const share = (name: string): Axis => ({ name, from: 0, to: 1 });

/** Whether those most at risk are the cases: ROC curve with its band, precision and recall, lift. */
export function Ranking(props: SectionProps) {
  const { patients, words } = props;
  const { events, patients: all } = patients.ranked;
  if (events === 0 || events === all)
    return (
      <p className="quiet">
        All of these patients are alike ({casesIn(words).case}: {showCount(events)} of{' '}
        {showCount(all)}), so that there is nothing to rank.
      </p>
    );
  return (
    <div className={styles.figures}>
      <RocFigure {...props} />
      <PrecisionFigure {...props} />
      <LiftFigure {...props} />
    </div>
  );
}

function RocFigure({ patients, table }: SectionProps) {
  const { risks, events, ranked } = patients;
  const { points, area, band } = useMemo(
    () => ({
      points: rocPoints(ranked),
      area: areaUnderCurve(risks, events)!,
      band: rocBand(risks, events),
    }),
    [risks, events, ranked],
  );
  const [across, up] = [share('1 − specificity'), share('sensitivity')];
  const places = placesIn(across, up);
  const drawn = thin(points, (point) => [point.falseAlarmShare, point.sensitivity]);
  const others = table.falseAlarms + table.rightlyLeft;
  const interval = area.interval?.map((bound) => bound.toFixed(3)).join(' – ');
  return (
    <SvgFigure
      title="ROC with its band"
      caption={`AUC ${area.value.toFixed(3)}${interval ? `, 95% interval ${interval} (DeLong)` : ''}.${band ? ' The band holds 95 of 100 curves of patients drawn anew, point by point.' : ' Patients are too few for a band.'} The dot is the cutoff.`}
      fileName="roc-with-band"
      width={frame.width}
      height={frame.height}
      numbers={() => [
        ['cutoff', '1 - specificity', 'sensitivity'],
        ...points.map((point) => [point.cutoff, point.falseAlarmShare, point.sensitivity]),
        ...(band ? [['1 - specificity', 'lower', 'upper']] : []),
        ...(band ?? []).map((point) => [point.falseAlarmShare, point.lower, point.upper]),
      ]}
    >
      {band && (
        <path
          d={`${pathThrough(
            [
              [0, 0],
              ...band.map((one) => [one.falseAlarmShare, one.upper] as const),
              ...band.map((one) => [one.falseAlarmShare, one.lower] as const).reverse(),
            ],
            places,
          )}Z`}
          className={styles.band}
        />
      )}
      <Axes across={across} up={up} />
      <path
        d={pathThrough(
          [
            [0, 0],
            [1, 1],
          ],
          places,
        )}
        className={styles.plain}
      />
      <path
        d={pathThrough(
          drawn.map((one) => [one.falseAlarmShare, one.sensitivity]),
          places,
        )}
        className={styles.curve}
      />
      <circle
        cx={places.x(table.falseAlarms / others)}
        cy={places.y(table.found / (table.found + table.missed))}
        r={4.5}
        className={styles.marker}
        fill="#ffffff"
      />
    </SvgFigure>
  );
}

function PrecisionFigure({ patients, table }: SectionProps) {
  const { ranked } = patients;
  const found = useMemo(() => precisionRecall(ranked)!, [ranked]);
  const [across, up] = [
    share('sensitivity'),
    share('precision: share of cases among those called in'),
  ];
  const places = placesIn(across, up);
  const plain = ranked.events / ranked.patients;
  const drawn = thin(found.points, (point) => [point.sensitivity, point.precision]);
  const called = table.found + table.falseAlarms;
  return (
    <SvgFigure
      title="Precision and recall"
      caption={`Average precision ${found.average.toFixed(3)}; without knowledge it would be ${plain.toFixed(3)}, the share of cases (dotted).`}
      fileName="precision-and-recall"
      width={frame.width}
      height={frame.height}
      numbers={() => [
        ['cutoff', 'sensitivity', 'precision'],
        ...found.points.map((point) => [point.cutoff, point.sensitivity, point.precision]),
      ]}
    >
      <Axes across={across} up={up} />
      <path
        d={pathThrough(
          [
            [0, plain],
            [1, plain],
          ],
          places,
        )}
        className={styles.plain}
      />
      <path
        d={pathThrough(
          drawn.map((one) => [one.sensitivity, one.precision]),
          places,
        )}
        className={styles.curve}
      />
      {called > 0 && (
        <circle
          cx={places.x(table.found / (table.found + table.missed))}
          cy={places.y(table.found / called)}
          r={4.5}
          className={styles.marker}
          fill="#ffffff"
        />
      )}
    </SvgFigure>
  );
}

/** Places at which cases found are worked out. */
const steps = 200;

function LiftFigure({ patients, words }: SectionProps) {
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
      caption={`Among the ${plural(lift.patients, 'patient')} most at risk ${Number(lift.cases.toFixed(1))} are ${cases}, ${showPercent(lift.share)} of all, ${lift.times?.toFixed(1) ?? '–'} times as many as among as many drawn by chance (dotted).`}
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
