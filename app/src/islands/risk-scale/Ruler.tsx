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
import { showCutoff } from '../../browser/format.ts';
import { step } from './use-cutoff-keys.ts';
import styles from './Ruler.module.css';

interface Props {
  density: RiskDensity;
  cutoff: number;
  chosen: number;
  onMove: (cutoff: number) => void;
  above: string;
  below: string;
  whose: string;
  /** Risk of one patient, marked on the ruler. */
  patient?: number;
}

const height = 104;
/** Rows from the top: labels, patients with the event, the ruler, those without, this patient, numbers. */
const labels = 11;
const baseline = 45;
const tallest = 27;
const patientLabel = 86;
const margin = { left: 16, right: 16 };
/** Room that the word beside the marker takes, and a letter of the counts. */
const markerWord = 120;
const letter = 6.2;

/** The ruler from 0 to 1, the patients above and below it, and the marker. */
export function Ruler({ density, cutoff, chosen, onMove, above, below, whose, patient }: Props) {
  const frame = useRef<SVGSVGElement>(null);
  const width = useWidth(frame);
  const inner = width - margin.left - margin.right;
  const x = (risk: number) => margin.left + Math.min(1, risk) * inner;
  const toCutoff = (event: PointerEvent) => {
    const box = frame.current!.getBoundingClientRect();
    const risk = (event.clientX - box.left - margin.left) / inner;
    onMove(Number(Math.min(1, Math.max(0, risk)).toFixed(3)));
  };
  const press = (event: KeyboardEvent) => {
    const moves: Record<string, number> = {
      ArrowLeft: -0.01,
      ArrowDown: -0.01,
      ArrowRight: 0.01,
      ArrowUp: 0.01,
    };
    if (event.key in moves) onMove(step(cutoff, moves[event.key] / (event.shiftKey ? 10 : 1)));
    else if (event.key === 'Home') onMove(0);
    else if (event.key === 'End') onMove(1);
    else return;
    event.preventDefault();
  };
  const at = x(cutoff);
  const areas = useMemo(() => areasOf(density, width), [density, width]);
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
      <Scale areas={areas} width={width} />
      <g clipPath="url(#called-in)">
        <path d={areas.event} className={styles.eventFill} />
        <path d={areas.none} className={styles.noneFill} />
      </g>
      <line x1={x(0)} x2={x(1)} y1={baseline} y2={baseline} className={styles.axis} />
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
            this patient {patient.toFixed(3)}
          </text>
        </g>
      )}
      <g
        className={styles.marker}
        role="slider"
        tabIndex={0}
        aria-label={`Cutoff, ${whose} patients`}
        aria-valuemin={0}
        aria-valuemax={1}
        aria-valuenow={Math.min(1, cutoff)}
        aria-valuetext={`cutoff ${showCutoff(cutoff)}`}
        onKeyDown={press}
      >
        <rect x={at - 14} y={0} width={28} height={height - 18} className={styles.grip} />
        <line x1={at} x2={at} y1={10} y2={baseline + 34} />
        <path d={`M${at - 9} 2h5v4h2.5V2h3v4h2.5V2h5v10h-18z`} />
        <text x={right ? at + 14 : at - 14} y={labels} textAnchor={right ? 'start' : 'end'}>
          cutoff {showCutoff(cutoff)}
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
const Scale = memo(function Scale({ areas, width }: { areas: Areas; width: number }) {
  const inner = width - margin.left - margin.right;
  const x = (risk: number) => margin.left + risk * inner;
  const ticks = Array.from({ length: 101 }, (_, i) => {
    const length = i % 10 === 0 ? 10 : i % 5 === 0 ? 7 : 4;
    return `M${x(i / 100).toFixed(1)} ${baseline}v${length}`;
  }).join('');
  return (
    <>
      <path d={areas.event} className={styles.eventOutline} />
      <path d={areas.none} className={styles.noneOutline} />
      <path d={ticks} className={styles.tick} />
      {Array.from({ length: 11 }, (_, i) => (
        <text key={i} x={x(i / 10)} y={height - 3} textAnchor="middle" className={styles.number}>
          {(i / 10).toFixed(1)}
        </text>
      ))}
    </>
  );
});

function areasOf(density: RiskDensity, width: number): Areas {
  const inner = width - margin.left - margin.right;
  const x = (risk: number) => margin.left + Math.min(1, risk) * inner;
  // Each side has its own height: with one scale the rarer outcome would be a flat line.
  const tall = (values: number[]) => tallest / Math.max(...values, 1e-9);
  const [eventTall, noneTall] = [tall(density.event), tall(density.none)];
  return {
    event: area(density.grid, density.event, x, (d) => baseline - d * eventTall),
    none: area(density.grid, density.none, x, (d) => baseline + d * noneTall),
  };
}

function area(
  grid: number[],
  values: number[],
  x: (risk: number) => number,
  y: (density: number) => number,
): string {
  const line = grid.map((risk, i) => `${x(risk).toFixed(1)} ${y(values[i]).toFixed(1)}`).join('L');
  return `M${x(0)} ${y(0)}L${line}L${x(1)} ${y(0)}Z`;
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
