import { useMemo } from 'react';
import type { LossCurve } from '@rook-scale/core/families';
import { plural } from '../../../browser/format.ts';
import { ChartFrame, type LineConfiguration } from '../../../components/index.ts';
import type { FacetProps } from '../Facets.tsx';
import { short } from './words.ts';

/** Loss along the trees, the epochs or how many are asked: in those learned from dashed, in others as a line. */
export function LossCurveView({
  value: curve,
  line,
  soFar = false,
}: Pick<FacetProps<'curve'>, 'value' | 'line'> & {
  /** It grows while it is looked at. */
  soFar?: boolean;
}) {
  const configuration = useMemo(() => configurationOf(curve), [curve]);
  return (
    <ChartFrame
      title={soFar ? `${titles[curve.along]} so far` : titles[curve.along]}
      caption={captionOf(curve)}
      configuration={configuration}
      numbers={() => [
        [curve.along, ...curve.lines.map(({ whose }) => `${curve.loss}, ${whoseWords[whose]}`)],
        ...curve.at.map((trees, i) => [trees, ...curve.lines.map(({ values }) => values[i])]),
      ]}
      fileName={`${line.name}-loss`}
      height={170}
    />
  );
}

const titles: Record<LossCurve['along'], string> = {
  trees: 'Loss along the trees',
  neighbours: 'Loss by how many are asked',
  epochs: 'Loss along the epochs',
};

const words: Record<LossCurve['along'], { axis: string; one: string; with: string }> = {
  trees: { axis: 'trees', one: 'tree', with: 'with' },
  neighbours: { axis: 'patients asked', one: 'patient', with: 'asking' },
  epochs: { axis: 'epochs', one: 'epoch', with: 'after' },
};

const whoseWords: Record<LossCurve['lines'][number]['whose'], string> = {
  'learned from': 'patients learned from',
  'inner fold': 'patients watched',
  'out of bag': 'patients out of bag',
};

function configurationOf(curve: LossCurve): LineConfiguration {
  return {
    type: 'line',
    data: {
      datasets: curve.lines.map(({ whose, values }) => ({
        label: whoseWords[whose],
        data: values.map((y, i) => ({ x: curve.at[i], y })),
        borderColor: whose === 'learned from' ? '#4a5361' : '#171a21',
        borderWidth: whose === 'learned from' ? 1 : 2,
        borderDash: whose === 'learned from' ? [4, 3] : [],
        pointRadius: curve.at.map((trees) =>
          trees === curve.chosen && whose !== 'learned from' ? 4 : 0,
        ),
        pointBackgroundColor: '#171a21',
      })),
    },
    options: {
      scales: {
        x: {
          type: 'linear',
          min: curve.at[0],
          max: curve.at.at(-1),
          title: { text: words[curve.along].axis },
          ticks: { precision: 0, maxTicksLimit: 8, includeBounds: false },
        },
        y: { type: 'linear', title: { text: curve.loss }, ticks: { maxTicksLimit: 5 } },
      },
    },
  };
}

function captionOf(curve: LossCurve): string {
  const { lines, at, chosen, plain } = curve;
  const judged = lines.find(({ whose }) => whose !== 'learned from')!;
  const place = at.indexOf(chosen);
  const now = judged.values[place >= 0 ? place : judged.values.length - 1];
  const half = at.findIndex((trees) => trees >= chosen / 2);
  const learned = lines.find(({ whose }) => whose === 'learned from');
  const than = plain === undefined ? '' : ` (${short(plain)} if all are given what all have)`;
  const parts = [
    `${curve.loss} ${short(now)} in the ${whoseWords[judged.whose]} ${words[curve.along].with} ${plural(chosen, words[curve.along].one)}${than}`,
  ];
  if (learned && place >= 0)
    parts.push(`${short(learned.values[place])} in those learned from (dashed)`);
  else if (half >= 0 && chosen > 1)
    parts.push(`${short(judged.values[half])} ${words[curve.along].with} half as many`);
  const sentence = parts.join('; ');
  return `${sentence[0].toUpperCase()}${sentence.slice(1)}.`;
}
