import { useMemo } from 'react';
import type { OneNumber } from '@rook-scale/core/survey';
import { showCount } from '../../../browser/format.ts';
import { roundDigits } from '../../../browser/numbers.ts';
import { ChartFrame, type FigureConfiguration, type Mark } from '../../../components/index.ts';
import { plainColour } from '../marks.ts';
import type { Axis } from './OneNumber.tsx';
import styles from './OneColumn.module.css';

interface Props {
  view: OneNumber;
  axis: Axis;
  marks: Mark[];
  bins: number | undefined;
  onBins: (bins: number | undefined) => void;
}

/** Counts in bins, stacked by level, with the density drawn on the same scale. */
export function HistogramChart({ view, axis, marks, bins, onBins }: Props) {
  const { histogram, description } = view;
  const configuration = useMemo(() => configure(view, axis, marks), [view, axis, marks]);
  const shown = histogram.counts.length;
  const fullest = histogram.counts.indexOf(Math.max(...histogram.counts));
  const from = histogram.start + fullest * histogram.width;
  return (
    <ChartFrame
      title="Distribution"
      caption={`The fullest bin, ${showCount(histogram.counts[fullest])} of ${showCount(histogram.counts.reduce((sum, count) => sum + count, 0))} patients, goes from ${axis.show(tidy(from))} to ${axis.show(tidy(from + histogram.width))}; ${shown} bins of width ${tidy(histogram.width)}${view.density ? ', the line is the density' : ''}.`}
      configuration={configuration}
      controls={
        <label className={styles.bins}>
          bins
          <input
            type="range"
            min={5}
            max={80}
            value={bins ?? Math.min(80, Math.max(5, shown))}
            aria-label="About how many bins"
            onChange={(event) => onBins(Number(event.target.value))}
          />
        </label>
      }
      numbers={() => [
        ['from', 'to', 'patients', ...marks.map(({ level }) => level)],
        ...histogram.counts.map((count, i) => [
          tidy(histogram.start + i * histogram.width),
          tidy(histogram.start + (i + 1) * histogram.width),
          count,
          ...(view.groups?.map((group) => group.bins[i]) ?? []),
        ]),
      ]}
      fileName="distribution"
      height={description.different === 1 ? 120 : 200}
    />
  );
}

/** Sums of widths without the dust of binary fractions. */
const tidy = (value: number) => roundDigits(value, 10);

function configure(view: OneNumber, axis: Axis, marks: Mark[]): FigureConfiguration {
  const { histogram, density, groups } = view;
  const { start, width, counts } = histogram;
  const middle = (i: number) => start + (i + 0.5) * width;
  const parts = groups
    ? groups.map((group, g) => ({ heights: group.bins, ...marks[g] }))
    : [{ heights: counts, colour: plainColour, filled: false, level: 'patients' }];
  const total = counts.reduce((sum, count) => sum + count, 0);
  return {
    type: 'bar',
    data: {
      datasets: [
        ...(density
          ? [
              {
                type: 'line' as const,
                label: 'density',
                data: density.heights.map((height, i) => ({
                  x: density.start + i * density.step,
                  y: height * total * width,
                })),
                borderColor: '#171a21',
                borderWidth: 1.2,
                pointRadius: 0,
                pointHitRadius: 0,
              },
            ]
          : []),
        ...parts.map(({ heights, colour, filled, level }) => ({
          type: 'bar' as const,
          label: level,
          data: heights.map((count, i) => ({ x: middle(i), y: count })),
          backgroundColor: filled ? colour : pale(colour),
          borderColor: colour,
          borderWidth: counts.length > 60 ? 0 : 0.5,
          barPercentage: 1,
          categoryPercentage: 0.98,
          stack: 'counts',
        })),
      ],
    },
    options: {
      scales: {
        x: {
          type: 'linear',
          offset: false,
          min: start,
          max: start + counts.length * width,
          title: { text: axis.name },
          grid: { offset: false },
          ticks: {
            maxTicksLimit: 7,
            includeBounds: false,
            callback: (value) => axis.show(Number(value)),
          },
        },
        y: {
          type: 'linear',
          stacked: true,
          min: 0,
          title: { text: 'patients' },
          ticks: { maxTicksLimit: 5 },
        },
      },
      plugins: {
        tooltip: {
          filter: ({ dataset }) => dataset.type === 'bar',
          callbacks: {
            title: ([item]) =>
              item === undefined
                ? ''
                : `${axis.show(tidy(start + item.dataIndex * width))} to ${axis.show(tidy(start + (item.dataIndex + 1) * width))}`,
            label: ({ dataset, parsed }) => `${dataset.label}: ${showCount(parsed.y ?? 0)}`,
          },
        },
      },
    },
  };
}

/** Half way to white: what is not filled is only tinted. */
function pale(colour: string): string {
  if (!colour.startsWith('#')) return colour;
  const parts = [1, 3, 5].map((i) => parseInt(colour.slice(i, i + 2), 16));
  return `rgb(${parts.map((part) => Math.round(part + 0.55 * (255 - part))).join(' ')})`;
}
