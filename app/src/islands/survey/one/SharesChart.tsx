import { useMemo } from 'react';
import type { OneNumber, SharesAlong } from '@rook-scale/core/survey';
import { display, type DictionaryEntry } from '@rook-scale/core/table';
import { lowerFirst, showPercent } from '../../../browser/format.ts';
import { roundDigits } from '../../../browser/numbers.ts';
import { ChartFrame, type FigureConfiguration, type Mark } from '../../../components/index.ts';
import type { Axis } from './OneNumber.tsx';

interface Props {
  shares: SharesAlong;
  marks: Mark[];
  axis: Axis;
  by: DictionaryEntry;
  view: OneNumber;
}

/** Which share of the patients near a value has each level. */
export function SharesChart({ shares, marks, axis, by, view }: Props) {
  // The level that the analyst looks for comes first: of two, the filled one.
  const order = useMemo(
    () => marks.map((_, i) => i).sort((a, b) => Number(marks[b].filled) - Number(marks[a].filled)),
    [marks],
  );
  const configuration = useMemo(
    () => configure(shares, marks, axis, marks.length === 2 ? order.slice(0, 1) : order),
    [shares, marks, axis, order],
  );
  const first = order[0];
  const { lowerQuartile, upperQuartile } = view.description;
  const at = (value: number) => {
    const place = shares.at.findIndex((x) => x >= value);
    return shares.shares[first][Math.max(0, place)];
  };
  return (
    <ChartFrame
      title={`Share of ${lowerFirst(display(by))} along it`}
      caption={`${marks[first].level}: ${showPercent(at(lowerQuartile))} of patients near the lower quartile (${axis.show(lowerQuartile)}), ${showPercent(at(upperQuartile))} near the upper (${axis.show(upperQuartile)}). Few patients stand behind the ends.`}
      configuration={configuration}
      numbers={() => [
        [axis.name, ...marks.map(({ level }) => level), 'weight'],
        ...shares.at.map((x, i) => [
          x,
          ...marks.map((_, level) => shares.shares[level][i]),
          shares.weight[i],
        ]),
      ]}
      fileName="shares"
      height={200}
    />
  );
}

function configure(
  { at, shares, weight }: SharesAlong,
  marks: Mark[],
  axis: Axis,
  levels: number[],
): FigureConfiguration {
  return {
    type: 'line',
    data: {
      datasets: levels.map((level, place) => ({
        label: marks[level].level,
        // Of hardly anybody there is no share to speak of.
        data: at.flatMap((x, i) => (weight[i] < 3 ? [] : [{ x, y: shares[level][i] }])),
        borderColor: marks[level].colour,
        borderDash: place % 2 === 1 ? [5, 3] : [],
        borderWidth: 2,
        pointRadius: 0,
        pointHitRadius: 8,
      })),
    },
    options: {
      interaction: { mode: 'nearest', intersect: false },
      scales: {
        x: {
          type: 'linear',
          min: at[0],
          max: at[at.length - 1],
          title: { text: axis.name },
          ticks: { maxTicksLimit: 7, callback: (value) => axis.show(Number(value)) },
        },
        y: {
          type: 'linear',
          min: 0,
          suggestedMax: 0.2,
          title: { text: 'share of patients' },
          ticks: { maxTicksLimit: 5, callback: (value) => showPercent(Number(value)) },
        },
      },
      plugins: {
        tooltip: {
          displayColors: false,
          callbacks: {
            title: () => '',
            label: ({ dataset, parsed }) =>
              `${dataset.label} near ${axis.show(roundDigits(parsed.x ?? 0, 4))}: ${showPercent(parsed.y ?? 0)}`,
          },
        },
      },
    },
  };
}
