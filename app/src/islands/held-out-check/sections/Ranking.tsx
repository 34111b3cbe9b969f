import { useCallback, useMemo } from 'react';
import {
  areaUnderCurve,
  precisionRecall,
  rocBand,
  rocPoints,
  thin,
} from '@rook-scale/core/measures';
import { showArea, showAreaInterval, showCount } from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import {
  Axes,
  frame,
  pathThrough,
  placesIn,
  SvgFigure,
  type Axis,
} from '../../../components/index.ts';
import { LiftFigure } from './LiftFigure.tsx';
import { casesIn, type SectionProps } from './section.ts';
import { useLater } from './use-later.ts';
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
  const { risks, events, clusters, ranked } = patients;
  const { points, area } = useMemo(
    () => ({ points: rocPoints(ranked), area: areaUnderCurve(risks, events, clusters)! }),
    [risks, events, clusters, ranked],
  );
  const band = useLater(
    useCallback(() => rocBand(risks, events, clusters) ?? null, [risks, events, clusters]),
  );
  const [across, up] = [share('1 − specificity'), share('sensitivity')];
  const places = placesIn(across, up);
  const drawn = thin(points, (point) => [point.falseAlarmShare, point.sensitivity]);
  const others = table.falseAlarms + table.rightlyLeft;
  const interval = area.interval && showAreaInterval(area.interval, 3);
  return (
    <SvgFigure
      title="ROC with its band"
      caption={`AUC ${showArea(area.value, 3)}${interval ? `, 95% CI ${interval} (${clusters ? 'DeLong, by cluster' : 'DeLong'}, on the logit scale)` : ''}.${band ? ' Band: pointwise 95% interval from bootstrap samples.' : band === null ? ' Patients are too few for a band.' : ''} The dot is the cutoff.`}
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
      caption={`Average precision ${showFixed(found.average, 3)}; without knowledge it would be ${showFixed(plain, 3)}, the share of cases (dotted).`}
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
