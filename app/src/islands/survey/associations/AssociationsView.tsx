import { useMemo, useState } from 'react';
import type { Association } from '@rook-scale/core/survey';
import { display } from '@rook-scale/core/table';
import type { AssociationsSurveyed } from '../../../contract/surveys.ts';
import { setAddress, useAddress } from '../../../browser/address.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { showCount } from '../../../browser/format.ts';
import { Select, SvgFigure, ramp } from '../../../components/index.ts';
import { entryOf, useSurvey } from '../context.ts';
import { shorten } from '../one/BoxesAndViolins.tsx';
import styles from '../Survey.module.css';
import { usePart } from '../use-part.ts';
import { Waiting } from '../Waiting.tsx';
import own from './Associations.module.css';
import { InflationTable } from './InflationTable.tsx';
import { PairList } from './PairList.tsx';

/** The association of every two columns, like columns side by side. */
export function AssociationsView() {
  const [asked] = useAddress('measure');
  const ranked = asked === 'pearson' ? 'no' : 'yes';
  const { result, unfinished, problem } = usePart('associations', { ranked });
  const [threshold, setThreshold] = useState(0);
  const [order, setOrder] = useState<'clustered' | 'file'>('clustered');
  if (!result) return <Waiting problem={problem} what="the associations" />;
  if (result.map.names.length < 2)
    return <p>Two columns that are not text are needed; this cohort has fewer.</p>;
  return (
    <>
      <div className={styles.choices}>
        <Select
          label="Between numbers"
          value={ranked}
          options={[
            { value: 'yes', label: 'Spearman' },
            { value: 'no', label: 'Pearson' },
          ]}
          onChange={(value) => setAddress({ measure: value === 'no' ? 'pearson' : undefined })}
        />
        <Select
          label="Order"
          value={order}
          options={[
            { value: 'clustered', label: 'like by like' },
            { value: 'file', label: 'as in the file' },
          ]}
          onChange={setOrder}
        />
        <label className={own.threshold}>
          from
          <input
            type="range"
            min={0}
            max={0.95}
            step={0.05}
            value={threshold}
            aria-label="Show associations from this strength on"
            onChange={(event) => setThreshold(Number(event.target.value))}
          />
          <span className="number">{showFixed(threshold, 2)}</span>
        </label>
        <Scale />
        {unfinished && <p role="status">{unfinished}</p>}
      </div>
      <Grid surveyed={result} threshold={threshold} clustered={order === 'clustered'} />
      {result.leftOut > 0 && (
        <p className={styles.note}>
          {result.leftOut} more columns are left out: the map holds {result.map.names.length},
          predictors first.
        </p>
      )}
      <div className={`${styles.two} ${styles.section}`}>
        <PairList surveyed={result} />
        <InflationTable inflation={result.inflation} />
      </div>
    </>
  );
}

function Scale() {
  return (
    <span className={own.scale}>
      −1
      <svg width="90" height="10" aria-hidden="true">
        {Array.from({ length: 30 }, (_, i) => (
          <rect key={i} x={3 * i} width="3.2" height="10" fill={tint(-1 + (2 * i) / 29)} />
        ))}
      </svg>
      +1
    </span>
  );
}

/** Steel for opposed, white for none, marigold for together. */
function tint(value: number): string {
  const strength = Math.min(1, Math.abs(value));
  return value < 0
    ? `color-mix(in srgb, ${ramp(0)} ${Math.round(100 * strength)}%, #ffffff)`
    : `color-mix(in srgb, ${ramp(1)} ${Math.round(100 * strength)}%, #ffffff)`;
}

interface GridProps {
  surveyed: AssociationsSurveyed;
  threshold: number;
  clustered: boolean;
}

function Grid({ surveyed: { map }, threshold, clustered }: GridProps) {
  const { cohort } = useSurvey();
  const [held, setHeld] = useState<[number, number]>();
  const order = useMemo(
    () => (clustered ? map.order : map.names.map((_, i) => i)),
    [map, clustered],
  );
  const names = map.names.map((name) => display(entryOf(cohort, name) ?? { name, label: '' }));
  const count = order.length;
  const size = Math.max(7, Math.min(34, Math.floor(620 / count)));
  const longest = Math.max(...names.map((name) => shorten(name, 22).length));
  const labels = 14 + 6.2 * longest;
  const width = labels + count * size + 90;
  const height = count * size + 14 + (size >= 12 ? 16 + 4.4 * Math.min(18, longest) : 4);
  const at = (i: number, j: number) => map.cells[Math.max(i, j)][Math.min(i, j)];
  const shown = held && at(held[0], held[1]);
  return (
    <>
      <p className={own.held} role="status">
        {held
          ? `${names[held[0]]} and ${names[held[1]]}: ${say(shown)}`
          : 'Point at a cell to read it; press it to see the two columns.'}
      </p>
      <SvgFigure
        title=""
        caption={`${count} columns; ${sayStrongest(map.cells, names)}`}
        numbers={() => [
          ['column', 'other column', 'measure', 'association', 'patients'],
          ...map.cells.flatMap((row, i) =>
            row.flatMap((cell, j) =>
              cell ? [[map.names[i], map.names[j], cell.measure, cell.value, cell.patients]] : [],
            ),
          ),
        ]}
        fileName="associations"
        width={width}
        height={height}
      >
        <g onMouseLeave={() => setHeld(undefined)}>
          {order.map((i, row) => (
            <g key={map.names[i]}>
              {size >= 9 && (
                <text
                  x={labels - 6}
                  y={row * size + size / 2 + 4}
                  textAnchor="end"
                  className={own.label}
                  style={{ fontSize: Math.min(12, size) }}
                >
                  {shorten(names[i], 22)}
                </text>
              )}
              {order.slice(0, row + 1).map((j, column) => {
                const cell = i === j ? undefined : at(i, j);
                const strong = cell && Math.abs(cell.value) >= threshold;
                return (
                  <g
                    key={map.names[j]}
                    onMouseEnter={() => setHeld(i === j ? undefined : [i, j])}
                    onClick={() =>
                      i !== j && setAddress({ view: 'two', x: map.names[j], y: map.names[i] })
                    }
                    className={i === j ? undefined : own.cell}
                  >
                    <rect
                      x={labels + column * size}
                      y={row * size}
                      width={size - 1}
                      height={size - 1}
                      fill={i === j ? '#e3e7eb' : strong ? tint(cell.value) : '#ffffff'}
                      stroke={strong || i === j ? 'none' : '#eef1f4'}
                    />
                    {strong && size >= 26 && (
                      <text
                        x={labels + (column + 0.5) * size - 0.5}
                        y={row * size + size / 2 + 3.5}
                        textAnchor="middle"
                        className={own.value}
                      >
                        {short(cell.value)}
                      </text>
                    )}
                  </g>
                );
              })}
              {size >= 12 && (
                <text
                  transform={`translate(${labels + (row + 0.5) * size + 4},${count * size + 10}) rotate(-45)`}
                  textAnchor="end"
                  className={own.label}
                >
                  {shorten(names[i], 18)}
                </text>
              )}
            </g>
          ))}
        </g>
      </SvgFigure>
    </>
  );
}

const short = (value: number) => showFixed(value, 2).replace('0.', '.');

function say(cell: Association | null | undefined): string {
  return cell
    ? `${cell.measure} ${showFixed(cell.value, 2)} in ${showCount(cell.patients)} patients`
    : 'nothing can be said, one of them does not vary';
}

function sayStrongest(cells: (Association | null)[][], names: string[]): string {
  let best: { value: number; i: number; j: number } | undefined;
  cells.forEach((row, i) =>
    row.forEach((cell, j) => {
      if (cell && (!best || Math.abs(cell.value) > Math.abs(best.value)))
        best = { value: cell.value, i, j };
    }),
  );
  return best
    ? `the strongest association is that of ${names[best.i]} and ${names[best.j]}, ${showFixed(best.value, 2)}.`
    : 'none of them varies.';
}
