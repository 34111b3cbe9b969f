import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { cellsOf, type MapAxis, type RegionsShown } from '@rook-scale/core/families';
import { type CandidateLine, candidateRoutes } from '../../../contract/candidates.ts';
import { ask, unpackBytes, unpackNumbers } from '../../../browser/api.ts';
import { caseWords, plural, showCount, showCutoff, showScore } from '../../../browser/format.ts';
import { roundDigits } from '../../../browser/numbers.ts';
import { SvgFigure } from '../../../components/index.ts';
import type { FacetProps } from '../Facets.tsx';
import { useCutoff } from '../use-cutoff.ts';
import { Axis } from './Axis.tsx';
import { cutoffLine } from './cutoff-line.ts';
import { rangeOf, scoresOf, shadeOf, shades, spreadOut } from './regions.ts';
import styles from './Regions.module.css';

const width = 640;
const height = 420;
const frame = { left: 96, right: 16, top: 10, bottom: 44 };

const scoreNames = { event: 'Risk', levels: 'Case share', number: 'What is predicted' };

/** Everything a model of two predictors says, and where the patients stand in it. */
export const RegionMap = ({ value: map, detail: { labels }, line }: FacetProps<'regions'>) => (
  <section className={styles.regions}>
    <RegionFigure title="Regions" {...{ map, labels, line }} />
  </section>
);

interface FigureProps {
  title: string;
  map: RegionsShown;
  /** Of columns; another name of an axis stands for itself. */
  labels: Record<string, { label: string; unit: string }>;
  line: CandidateLine;
}

/** What is said anywhere in a plane, shaded, with the line of the cutoff, and patients by what happened to them. */
export function RegionFigure({ title, map, labels, line }: FigureProps) {
  const outcome = line.outcome!;
  const cutoff = useCutoff(line);
  const { data } = useQuery({
    queryKey: ['drawn predictions', line.id, line.fittedAt, outcome.cases],
    queryFn: () => ask(candidateRoutes.predictions, { candidate: line.id }),
    staleTime: Infinity,
  });
  const scores = useMemo(() => scoresOf(map, outcome.cases), [map, outcome]);
  const range = useMemo(() => rangeOf(scores), [scores]);
  const wide = cellsOf(map.across);
  const high = cellsOf(map.up);
  const edges = useMemo(() => {
    const between = { across: !('levels' in map.across), up: !('levels' in map.up) };
    return cutoffLine({ scores, wide, high, between }, cutoff);
  }, [scores, wide, high, map, cutoff]);
  const x = (cell: number) => frame.left + (cell / wide) * (width - frame.left - frame.right);
  const y = (cell: number) =>
    height - frame.bottom - (cell / high) * (height - frame.top - frame.bottom);
  const marks = useMemo(() => {
    if (!data) return [];
    const [risks, events] = [unpackNumbers(data.risks), unpackBytes(data.events)];
    const across = inCells(map.patients.across, map.across);
    const up = inCells(map.patients.up, map.up);
    return map.patients.place.map((place, i) => ({
      x: across[i],
      y: up[i],
      isCase: events[place] === 1,
      risk: risks[place],
    }));
  }, [data, map]);
  const wrong = marks.filter(({ isCase, risk }) => isCase !== risk >= cutoff).length;
  const nameOf = ({ column }: MapAxis) => {
    const { label, unit } = labels[column] ?? { label: '', unit: '' };
    return `${label || column}${unit && `, ${unit}`}`;
  };
  const said = scoreNames[map.predicted.kind];
  const atCutoff = `${edges.length > 0 ? 'The line is the cutoff' : 'Everybody is on one side of the cutoff'}, ${showCutoff(cutoff, outcome)}`;
  const who =
    marks.length === 0
      ? ''
      : ` ${plural(marks.length, 'patient')} of ${showCount(map.of)}: filled if a case (${caseWords(outcome)}), larger the ${showCount(wrong)} who are called wrongly out of fold.${map.outside > 0 ? ` ${plural(map.outside, 'patient')} more stand beyond the edges or are not known.` : ''}`;
  return (
    <SvgFigure
      title={title}
      caption={`${said} by ${nameOf(map.across)} and ${nameOf(map.up)}. ${atCutoff}.${who}`}
      width={width}
      height={height}
      fileName={title.toLowerCase().replaceAll(' ', '-')}
      controls={<Shades from={showScore(range[0], outcome)} to={showScore(range[1], outcome)} />}
      numbers={() => [
        [nameOf(map.across), nameOf(map.up), said],
        ...Array.from(scores, (score, i) => [
          middleOf(map.across, i % wide),
          middleOf(map.up, Math.floor(i / wide)),
          showScore(score, outcome),
        ]),
      ]}
    >
      {runsOf(scores, wide, range).map(({ from, to, row, shade }) => (
        <rect
          key={`${row} ${from}`}
          x={x(from)}
          // Seams of neighbours would show.
          width={x(to) - x(from) + 0.4}
          y={y(row + 1)}
          height={y(row) - y(row + 1) + 0.4}
          className={styles[`shade${shade}`]}
        />
      ))}
      <path
        d={edges.map(([x1, y1, x2, y2]) => `M${x(x1)} ${y(y1)}L${x(x2)} ${y(y2)}`).join('')}
        className={styles.cutoff}
      />
      {marks
        .toSorted((one, other) => Number(one.isCase) - Number(other.isCase))
        .map((mark, i) => (
          <circle
            key={i}
            cx={x(mark.x)}
            cy={y(mark.y)}
            r={mark.isCase === mark.risk >= cutoff ? 2.2 : 4}
            className={mark.isCase ? styles.case : styles.other}
          />
        ))}
      <Axis axis={map.across} name={nameOf(map.across)} place={x} at={height - frame.bottom} />
      <Axis axis={map.up} name={nameOf(map.up)} place={y} at={frame.left} upright />
    </SvgFigure>
  );
}

function Shades({ from, to }: { from: string; to: string }) {
  return (
    <span className={styles.key}>
      {from}
      <svg viewBox={`0 0 ${shades * 16} 10`} width={shades * 16} height={10} aria-hidden="true">
        {Array.from({ length: shades }, (_, shade) => (
          <rect
            key={shade}
            x={shade * 16}
            width={16}
            height={10}
            className={styles[`shade${shade}`]}
          />
        ))}
      </svg>
      {to}
    </span>
  );
}

/** Neighbours of one shade in a row are one piece of the drawing. */
function runsOf(scores: Float64Array, wide: number, range: [number, number]) {
  const runs: { from: number; to: number; row: number; shade: number }[] = [];
  scores.forEach((score, i) => {
    const [cell, row, shade] = [i % wide, Math.floor(i / wide), shadeOf(score, range)];
    const last = runs.at(-1);
    if (last?.row === row && last.shade === shade) last.to = cell + 1;
    else runs.push({ from: cell, to: cell + 1, row, shade });
  });
  return runs;
}

/** Where values stand, counted in cells; levels in the middle of theirs. */
function inCells(at: number[], axis: MapAxis): number[] {
  const spread = spreadOut(at, axis);
  if ('levels' in axis) return spread.map((place) => place + 0.5);
  const { from, to, cells } = axis;
  return spread.map((value) =>
    Math.min(cells, Math.max(0, (cells * (value - from)) / (to - from))),
  );
}

function middleOf(axis: MapAxis, cell: number): string | number {
  if ('levels' in axis) return axis.levels[cell];
  const { from, to, cells } = axis;
  return roundDigits(from + ((cell + 0.5) / cells) * (to - from), 4);
}
