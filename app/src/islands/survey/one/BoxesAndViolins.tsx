import { useState } from 'react';
import type { Density, GroupOfNumbers, OneNumber } from '@rook-scale/core/survey';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import { lowerFirst, showCount } from '../../../browser/format.ts';
import { roundDigits, showFixed } from '../../../browser/numbers.ts';
import { SvgFigure, type Mark } from '../../../components/index.ts';
import type { Axis } from './OneNumber.tsx';
import styles from './OneColumn.module.css';

interface Props {
  groups: GroupOfNumbers[];
  marks: Mark[];
  axis: Axis;
  by: DictionaryEntry;
  view: OneNumber;
}

const width = 380;
const left = 118;
const right = 12;

/** A box with whiskers inside its violin for each level; on demand the box is as tall as its group is large. */
export function BoxesAndViolins({ groups, marks, axis, by, view }: Props) {
  const [bySize, setBySize] = useState(false);
  const lane = Math.max(34, Math.min(76, 180 / groups.length));
  const height = groups.length * lane + 44;
  const { least, greatest } = view.description;
  const reach = greatest - least || 1;
  const x = (value: number) => left + ((value - least) / reach) * (width - left - right);
  const peak = Math.max(...groups.flatMap(({ density }) => density?.heights ?? [0]), 1e-300);
  const most = Math.max(...groups.map(({ patients }) => patients), 1);
  const ticks = roundTicks(least, greatest);
  return (
    <SvgFigure
      title={`By ${lowerFirst(display(by))}`}
      caption={sayMedians(groups, marks, axis)}
      controls={
        <label className={styles.bins}>
          <input
            type="checkbox"
            checked={bySize}
            onChange={(event) => setBySize(event.target.checked)}
          />
          box height shows group size
        </label>
      }
      numbers={() => [
        ['level', 'patients', 'least', 'lower quartile', 'median', 'upper quartile', 'greatest'],
        ...groups.map(({ patients, description: d }, g) => [
          marks[g].level,
          patients,
          d?.least ?? '',
          d?.lowerQuartile ?? '',
          d?.median ?? '',
          d?.upperQuartile ?? '',
          d?.greatest ?? '',
        ]),
      ]}
      fileName="by-level"
      width={width}
      height={height}
    >
      {ticks.map((tick) => (
        <g key={tick}>
          <line x1={x(tick)} x2={x(tick)} y1={4} y2={height - 36} className={styles.rule} />
          <text x={x(tick)} y={height - 22} textAnchor="middle" className={styles.tick}>
            {/* A long one at the end would leave the frame. */}
            {x(tick) > width - 22 && axis.show(tick).length > 3 ? '' : axis.show(tick)}
          </text>
        </g>
      ))}
      <line
        x1={left}
        x2={width - right}
        y1={height - 36}
        y2={height - 36}
        className={styles.axis}
      />
      <text
        x={(left + width - right) / 2}
        y={height - 5}
        textAnchor="middle"
        className={styles.name}
      >
        {axis.name}
      </text>
      {groups.map((group, g) => {
        const centre = 4 + (g + 0.5) * lane;
        const size = bySize ? Math.sqrt(group.patients / most) : 1;
        return (
          <g key={marks[g].level}>
            <text x={0} y={centre - 1} className={styles.name}>
              {shorten(marks[g].level, 17)}
            </text>
            <text x={0} y={centre + 13} className={styles.count}>
              {showCount(group.patients)}
            </text>
            {group.density && (
              <path
                d={outline(group.density, x, centre, (0.46 * lane) / peak, least, greatest)}
                className={styles.violin}
                fill={marks[g].colour}
                stroke={marks[g].colour}
              />
            )}
            {group.description && (
              <Box group={group} x={x} y={centre} half={Math.max(1.5, 0.14 * lane * size)} />
            )}
          </g>
        );
      })}
    </SvgFigure>
  );
}

function Box({
  group: { description },
  x,
  y,
  half,
}: {
  group: GroupOfNumbers;
  x: (value: number) => number;
  y: number;
  half: number;
}) {
  const { least, lowerQuartile, median, upperQuartile, greatest, fences } = description!;
  const low = Math.max(least, fences.lower);
  const high = Math.min(greatest, fences.upper);
  return (
    <>
      <line x1={x(low)} x2={x(high)} y1={y} y2={y} className={styles.whisker} />
      <rect
        x={x(lowerQuartile)}
        y={y - half}
        width={Math.max(1, x(upperQuartile) - x(lowerQuartile))}
        height={2 * half}
        className={styles.box}
      />
      <line x1={x(median)} x2={x(median)} y1={y - half} y2={y + half} className={styles.median} />
    </>
  );
}

/** The density and its mirror image, within the range of the axis. */
function outline(
  { start, step, heights }: Density,
  x: (value: number) => number,
  centre: number,
  scale: number,
  least: number,
  greatest: number,
): string {
  const points = heights.flatMap((height, i) => {
    const at = start + i * step;
    return at < least - step || at > greatest + step
      ? []
      : [{ x: x(Math.min(greatest, Math.max(least, at))), h: height * scale }];
  });
  const upper = points.map((point) => `${showFixed(point.x, 1)},${showFixed(centre - point.h, 1)}`);
  const lower = points
    .reverse()
    .map((point) => `${showFixed(point.x, 1)},${showFixed(centre + point.h, 1)}`);
  return `M${[...upper, ...lower].join('L')}Z`;
}

/** About five round numbers between two ends. */
export function roundTicks(least: number, greatest: number, wanted = 5): number[] {
  if (!(greatest > least)) return [least];
  const rough = (greatest - least) / wanted;
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = power * ([1, 2, 5].find((one) => one * power >= rough) ?? 10);
  const first = Math.ceil(least / step - 1e-9);
  const count = Math.floor(greatest / step + 1e-9) - first + 1;
  return Array.from({ length: count }, (_, i) => roundDigits((first + i) * step, 10));
}

export function shorten(text: string, most: number): string {
  return text.length > most ? `${text.slice(0, most - 1)}…` : text;
}

function sayMedians(groups: GroupOfNumbers[], marks: Mark[], axis: Axis): string {
  const medians = groups
    .slice(0, 4)
    .flatMap(({ description }, g) =>
      description ? [`${axis.show(description.median)} (${marks[g].level})`] : [],
    );
  return medians.length === 0
    ? 'Nothing is known in any of the levels.'
    : `Medians: ${medians.join(', ')}${groups.length > 4 ? ' …' : ''}. Whiskers reach 1.5 interquartile ranges at most.`;
}
