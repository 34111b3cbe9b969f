import {
  memo,
  useEffect,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
} from 'react';
import type { RiskDensity } from '@rook-scale/core/measures';
import { showFixed } from '../../browser/numbers.ts';
import { drawn } from '../../components/drawn.ts';
import type { ScoreScale } from './score-scale.ts';
import { step, within } from './use-cutoff-keys.ts';
import styles from './Ruler.module.css';

interface Props {
  density: RiskDensity;
  scale: ScoreScale;
  cutoff: number;
  chosen: number;
  onMove: (cutoff: number) => void;
  above: string;
  below: string;
  whose: string;
  /** Score of one patient, marked on the ruler. */
  patient?: number;
}

const height = 104;
/** Rows from the top: labels, patients with the event, the ruler, those without, this patient, numbers. */
const labels = 14;
const baseline = 45;
const tallest = 27;
const patientLabel = 86;
const margin = { left: 16, right: 16 };
/** Room that the word beside the marker takes, and a letter of the counts. */
const markerWord = 120;
const letter = 6.2;

/** The ruler, the patients above and below it, and the marker. */
export function Ruler(props: Props) {
  const { density, scale, cutoff, chosen, onMove, above, below, whose, patient } = props;
  const frame = useRef<SVGSVGElement>(null);
  const width = useWidth(frame);
  const inner = width - margin.left - margin.right;
  const x = placer(scale, width);
  const toCutoff = (event: PointerEvent) => {
    const box = frame.current!.getBoundingClientRect();
    const share = (event.clientX - box.left - margin.left) / inner;
    onMove(within(scale.from + share * (scale.to - scale.from), scale));
  };
  const press = (event: KeyboardEvent) => {
    const moves: Record<string, 1 | -1> = {
      ArrowLeft: -1,
      ArrowDown: -1,
      ArrowRight: 1,
      ArrowUp: 1,
    };
    if (event.key in moves) onMove(step(cutoff, scale, moves[event.key], event.shiftKey));
    else if (event.key === 'Home') onMove(scale.from);
    else if (event.key === 'End') onMove(scale.to);
    else return;
    event.preventDefault();
  };
  const at = x(cutoff);
  const areas = useMemo(() => areasOf(density, scale, width), [density, scale, width]);
  // The counts stand in the half of the row in which the marker's word does not.
  const right = at <= margin.left + inner / 2;
  const counts = below ? `${above} above, ${below} below` : above;
  // Without room beside the marker's word they go below the patients, where no patient is named.
  const room = (right ? width - margin.right - at : at - margin.left) - markerWord;
  const beside = room > letter * counts.length;
  const patientRight = patient === undefined || x(patient) < width - 150;
  return (
    <svg
      ref={frame}
      className={styles.ruler}
      height={height}
      width="100%"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        toCutoff(event);
      }}
      onPointerMove={(event) => event.buttons === 1 && toCutoff(event)}
    >
      <clipPath id="called-in">
        <rect x={at} y="0" width={Math.max(0, width - at)} height={height} />
      </clipPath>
      <Scale areas={areas} scale={scale} width={width} />
      <g clipPath="url(#called-in)">
        <path d={areas.event} className={styles.eventFill} />
        <path d={areas.none} className={styles.noneFill} />
      </g>
      <line
        x1={x(scale.from)}
        x2={x(scale.to)}
        y1={baseline}
        y2={baseline}
        className={styles.axis}
      />
      {(beside || patient === undefined) && (
        <text
          x={right ? width - margin.right : margin.left}
          y={beside ? labels : patientLabel}
          textAnchor={right ? 'end' : 'start'}
          className={styles.side}
        >
          {counts}
        </text>
      )}
      {chosen !== cutoff && (
        <line x1={x(chosen)} x2={x(chosen)} y1={14} y2={baseline + 30} className={styles.chosen} />
      )}
      {patient !== undefined && (
        <g className={styles.patient}>
          <path d={`M${x(patient)} ${baseline}l-6 -10h12z M${x(patient)} ${baseline}l-6 10h12z`} />
          <text
            x={x(patient) + (patientRight ? 0 : 8)}
            y={patientLabel}
            textAnchor={patientRight ? 'start' : 'end'}
          >
            this patient{' '}
            {scale.what === 'risk' ? showFixed(patient, 3) : scale.show(within(patient, scale))}
          </text>
        </g>
      )}
      <g
        className={styles.marker}
        role="slider"
        tabIndex={0}
        aria-label={`Cutoff, ${whose} patients`}
        aria-valuemin={scale.from}
        aria-valuemax={scale.to}
        aria-valuenow={Math.max(scale.from, Math.min(scale.to, cutoff))}
        aria-valuetext={`cutoff ${scale.show(cutoff)}`}
        onKeyDown={press}
      >
        <rect x={at - 14} y={0} width={28} height={height - 18} className={styles.grip} />
        <line x1={at} x2={at} y1={14} y2={baseline + 34} />
        <path d={`M${at - 9} 5h5v4h2.5V5h3v4h2.5V5h5v10h-18z`} />
        <text x={right ? at + 14 : at - 14} y={labels} textAnchor={right ? 'start' : 'end'}>
          cutoff {scale.show(cutoff)}
        </text>
      </g>
    </svg>
  );
}

interface Areas {
  event: string;
  none: string;
}

/** What a move of the marker leaves as it is: outlines, ticks and numbers. */
const Scale = memo(function Scale({
  areas,
  scale,
  width,
}: {
  areas: Areas;
  scale: ScoreScale;
  width: number;
}) {
  const x = placer(scale, width);
  const lengths = { long: 10, middle: 7, short: 4 };
  const ticks = scale.ticks
    .map(({ at, length }) => `M${drawn(x(at))} ${baseline}v${lengths[length]}`)
    .join('');
  const words = scale.ticks.filter(({ word }) => word !== undefined);
  return (
    <>
      <path d={areas.event} className={styles.eventOutline} />
      <path d={areas.none} className={styles.noneOutline} />
      <path d={ticks} className={styles.tick} />
      {words.map(({ at, word }) => (
        <text key={at} x={x(at)} y={height - 3} textAnchor="middle" className={styles.number}>
          {word}
        </text>
      ))}
    </>
  );
});

/** Where a score lies; beyond the scale it is at its end. */
function placer({ from, to }: ScoreScale, width: number): (score: number) => number {
  const inner = width - margin.left - margin.right;
  return (score) => margin.left + Math.min(1, Math.max(0, (score - from) / (to - from))) * inner;
}

function areasOf(density: RiskDensity, scale: ScoreScale, width: number): Areas {
  const x = placer(scale, width);
  // Each side has its own height: with one scale the rarer outcome would be a flat line.
  const tall = (values: number[]) => tallest / Math.max(...values, 1e-9);
  const [eventTall, noneTall] = [tall(density.event), tall(density.none)];
  return {
    event: area(density.grid, density.event, scale, x, (d) => baseline - d * eventTall),
    none: area(density.grid, density.none, scale, x, (d) => baseline + d * noneTall),
  };
}

function area(
  grid: number[],
  values: number[],
  { from, to }: ScoreScale,
  x: (risk: number) => number,
  y: (density: number) => number,
): string {
  const line = grid.map((risk, i) => `${drawn(x(risk))} ${drawn(y(values[i]))}`).join('L');
  return `M${x(from)} ${y(0)}L${line}L${x(to)} ${y(0)}Z`;
}

function useWidth(element: React.RefObject<SVGSVGElement | null>): number {
  const [width, setWidth] = useState(640);
  useEffect(() => {
    const target = element.current;
    if (!target) return;
    const watch = new ResizeObserver(([entry]) => setWidth(entry.contentRect.width));
    watch.observe(target);
    return () => watch.disconnect();
  }, [element]);
  return width;
}
