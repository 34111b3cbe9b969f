import { useMemo } from 'react';
import { areaUnderCurve, rocPoints, type ErrorTable, thin } from '@rook-scale/core/measures';
import { showArea, showAreaInterval } from '../../browser/format.ts';
import { roundTo, showExact, showFixed } from '../../browser/numbers.ts';
import { ChartFrame, type LineConfiguration } from '../../components/index.ts';
import type { Patients } from '../risk-scale/index.ts';

/** ROC curve with its area (DeLong interval); the ring is where the cutoff stands. */
export function RocChart({ patients, table }: { patients: Patients; table: ErrorTable }) {
  const area = useMemo(
    () => areaUnderCurve(patients.risks, patients.events, patients.clusters),
    [patients],
  );
  const points = useMemo(() => rocPoints(patients.ranked), [patients]);
  const configuration = useMemo(() => rocConfiguration(points), [points]);
  const mark = useMemo(
    () => ({
      x: table.falseAlarms / Math.max(1, table.falseAlarms + table.rightlyLeft),
      y: table.found / Math.max(1, table.found + table.missed),
    }),
    [table],
  );
  return (
    <ChartFrame
      title={
        <>
          ROC{' '}
          {area && (
            <span className="quiet" style={{ fontWeight: 400 }}>
              AUC {showArea(area.value)}{' '}
              {area.interval ? `(${showAreaInterval(area.interval)})` : '(no interval)'}
            </span>
          )}
        </>
      }
      caption={
        area
          ? `In ${pairsInOrder(area.value)} of 100 pairs of a case and a non-case, the case has the higher predicted risk.${area.interval ? '' : ' No interval: too few patients, or every pair is in order.'}`
          : 'One of the outcomes has no patient here, so there is no curve.'
      }
      configuration={configuration}
      numbers={() => [
        ['cutoff', '1 - specificity', 'sensitivity'],
        ...points.map((point) => [point.cutoff, point.falseAlarmShare, point.sensitivity]),
      ]}
      fileName="roc"
      square
      mark={mark}
    />
  );
}

function rocConfiguration(points: ReturnType<typeof rocPoints>): LineConfiguration {
  const drawn = thin(points, (point) => [point.falseAlarmShare, point.sensitivity]);
  return {
    type: 'line',
    data: {
      datasets: [
        {
          data: drawn.map((point) => ({ x: point.falseAlarmShare, y: point.sensitivity })),
          borderColor: '#171a21',
          borderWidth: 1.5,
          pointRadius: 0,
          pointHitRadius: 6,
        },
        {
          data: [
            { x: 0, y: 0 },
            { x: 1, y: 1 },
          ],
          borderColor: '#9aa4b0',
          borderWidth: 1,
          borderDash: [3, 3],
          pointRadius: 0,
          pointHitRadius: 0,
        },
      ],
    },
    options: {
      scales: {
        x: {
          type: 'linear',
          min: 0,
          max: 1,
          title: { text: '1 − specificity' },
          ticks: { stepSize: 0.5 },
        },
        y: {
          type: 'linear',
          min: 0,
          max: 1,
          title: { text: 'sensitivity' },
          ticks: { stepSize: 0.25, callback: (value) => showFixed(Number(value), 2) },
        },
      },
      plugins: {
        tooltip: {
          displayColors: false,
          callbacks: {
            label: ({ parsed }) =>
              `sensitivity ${showFixed(parsed.y, 2)}, specificity ${showFixed(1 - parsed.x!, 2)}`,
          },
        },
      },
    },
  };
}

/** As many decimals as keep it apart from all pairs and from none. */
const pairsInOrder = (area: number): string => {
  const text = showArea(area);
  return text.length > 4 && !/[<>]/.test(text)
    ? showExact(roundTo(100 * Number(text), 4))
    : /[<>]/.test(text)
      ? `${text[0]}${showFixed(100 * Number(text.slice(1)), 3)}`
      : showFixed(100 * area, 0);
};
