import type { UnusualPatients } from '@rook-scale/core/survey';
import { plural, showInterval, showPercent } from '../../../browser/format.ts';
import { showFixed } from '../../../browser/numbers.ts';
import { SvgFigure } from '../../../components/index.ts';
import own from './Unusual.module.css';

const width = 520;
const height = 150;
const margin = { left: 14, right: 14, middle: 78, bottom: 18 };

/** The scores: of cases above the ruler, of all others below; of all above, where no outcome is known. */
export function ScoresFigure({ found }: { found: UnusualPatients }) {
  const { from, step, all, cases } = found.scores;
  const others = cases ? all.map((count, i) => count - cases[i]) : undefined;
  const to = from + step * all.length;
  const x = (score: number) =>
    margin.left + ((score - from) / (to - from)) * (width - margin.left - margin.right);
  const top = cases ?? all;
  return (
    <SvgFigure
      title="Scores"
      caption={captionOf(found)}
      width={width}
      height={height}
      fileName="unusual-scores"
      numbers={() => [
        ['score from', 'score below', 'patients', ...(cases ? ['cases'] : [])],
        ...all.map((count, i) => [
          showFixed(from + i * step, 2),
          showFixed(from + (i + 1) * step, 2),
          count,
          ...(cases ? [cases[i]] : []),
        ]),
      ]}
    >
      <Bars counts={top} x={x} found={found} up className={cases ? own.cases : own.others} />
      {others && <Bars counts={others} x={x} found={found} className={own.others} />}
      <line
        x1={margin.left}
        x2={width - margin.right}
        y1={margin.middle}
        y2={margin.middle}
        className={own.ruler}
      />
      {ticks(from, to).map((tick) => (
        <g key={tick}>
          <line
            x1={x(tick)}
            x2={x(tick)}
            y1={margin.middle}
            y2={margin.middle + 5}
            className={own.ruler}
          />
          <text x={x(tick)} y={height - 3} textAnchor="middle" className={own.tick}>
            {showFixed(tick, 1)}
          </text>
        </g>
      ))}
      {cases && (
        <>
          <text x={width - margin.right} y={12} textAnchor="end" className={own.tick}>
            cases
          </text>
          <text
            x={width - margin.right}
            y={height - margin.bottom - 4}
            textAnchor="end"
            className={own.tick}
          >
            all others
          </text>
        </>
      )}
    </SvgFigure>
  );
}

interface BarsProps {
  counts: number[];
  x: (score: number) => number;
  found: UnusualPatients;
  up?: boolean;
  className: string;
}

/** Each side is drawn to its own height: shapes are compared, not sizes. */
function Bars({ counts, x, found, up, className }: BarsProps) {
  const { from, step } = found.scores;
  const most = Math.max(...counts, 1);
  const room = up ? margin.middle - 8 : height - margin.bottom - margin.middle - 8;
  return counts.map((count, i) => {
    if (count === 0) return null;
    const tall = Math.max(1, (count / most) * room);
    const left = x(from + i * step);
    return (
      <rect
        key={i}
        x={left}
        width={Math.max(0.5, x(from + (i + 1) * step) - left - 0.5)}
        y={up ? margin.middle - tall : margin.middle}
        height={tall}
        className={className}
      />
    );
  });
}

function ticks(from: number, to: number): number[] {
  const found: number[] = [];
  for (let tenth = Math.ceil(10 * from - 1e-9); tenth <= 10 * to + 1e-9; tenth++)
    found.push(tenth / 10);
  return found;
}

function captionOf({ patients, cases }: UnusualPatients): string {
  if (!cases)
    return `${plural(patients, 'patient')} by how unlike the others they are: the nearer to 1, the more.`;
  const { top, area } = cases;
  const rest = (cases.cases - top.cases) / Math.max(1, cases.known - top.known);
  const first = `Of the twentieth that is most unusual (score ${showFixed(top.score, 2)} or more), ${showPercent(top.cases / top.known)} are cases, of the others ${showPercent(rest)}.`;
  if (!area) return first;
  return `${first} The score by itself has an AUC of ${showFixed(area.value, 2)}${area.interval ? ` (${showInterval(area.interval)})` : ''}.`;
}
