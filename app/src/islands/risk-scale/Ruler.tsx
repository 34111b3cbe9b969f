import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
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
const baseline = 46;
const tallest = 36;
const margin = { left: 16, right: 16 };

/** The ruler from 0 to 1, the patients above and below it, and the marker. */
export function Ruler({ density, cutoff, chosen, onMove, above, below, whose, patient }: Props) {
  const frame = useRef<SVGSVGElement>(null);
  const width = useWidth(frame);
  const inner = width - margin.left - margin.right;
  const x = (risk: number) => margin.left + Math.min(1, risk) * inner;
  // Each side has its own height: with one scale the rarer outcome would be a flat line.
  const tall = (values: number[]) => tallest / Math.max(...values, 1e-9);
  const areas = {
    event: area(
      density.grid,
      density.event,
      (r) => x(r),
      (d) => baseline - d * tall(density.event),
    ),
    none: area(
      density.grid,
      density.none,
      (r) => x(r),
      (d) => baseline + d * tall(density.none),
    ),
  };
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
  const labelLeft = at > width - 150;
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
      <path d={areas.event} className={styles.eventOutline} />
      <path d={areas.none} className={styles.noneOutline} />
      <g clipPath="url(#called-in)">
        <path d={areas.event} className={styles.eventFill} />
        <path d={areas.none} className={styles.noneFill} />
      </g>
      <line x1={x(0)} x2={x(1)} y1={baseline} y2={baseline} className={styles.axis} />
      {Array.from({ length: 101 }, (_, i) => (
        <line
          key={i}
          x1={x(i / 100)}
          x2={x(i / 100)}
          y1={baseline}
          y2={baseline + (i % 10 === 0 ? 10 : i % 5 === 0 ? 7 : 4)}
          className={styles.tick}
        />
      ))}
      {Array.from({ length: 11 }, (_, i) => (
        <text key={i} x={x(i / 10)} y={height - 8} textAnchor="middle" className={styles.number}>
          {(i / 10).toFixed(1)}
        </text>
      ))}
      <text x={width - margin.right} y={32} textAnchor="end" className={styles.side}>
        {above}
      </text>
      <text x={width - margin.right} y={height - 26} textAnchor="end" className={styles.side}>
        {below}
      </text>
      {chosen !== cutoff && (
        <line x1={x(chosen)} x2={x(chosen)} y1={14} y2={baseline + 34} className={styles.chosen} />
      )}
      {patient !== undefined && (
        <g className={styles.patient}>
          <path d={`M${x(patient)} ${baseline}l-6 -10h12z M${x(patient)} ${baseline}l-6 10h12z`} />
          <text
            x={x(patient) > width - 130 ? x(patient) - 10 : x(patient) + 10}
            y={baseline + 24}
            textAnchor={x(patient) > width - 130 ? 'end' : 'start'}
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
        <line x1={at} x2={at} y1={10} y2={baseline + 36} />
        <path d={`M${at - 9} 2h5v4h2.5V2h3v4h2.5V2h5v10h-18z`} />
        <text x={labelLeft ? at - 14 : at + 14} y={12} textAnchor={labelLeft ? 'end' : 'start'}>
          cutoff {showCutoff(cutoff)}
        </text>
      </g>
    </svg>
  );
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
