import type { Mark } from '../../../components/index.ts';
import { useEffect, useMemo, useRef } from 'react';
import { everyFew, histogramOf } from '@rook-scale/core/survey';
import { sortedPresent } from '@rook-scale/core/numeric';
import { plainColour } from '../marks.ts';
import own from './Grid.module.css';

/** More points than this fill a cell of the grid. */
const drawnAtMost = 2500;

export function SmallHistogram({ scale }: { scale: Float64Array }) {
  const counts = useMemo(() => {
    const sorted = sortedPresent(scale);
    return sorted.length > 0 ? histogramOf(sorted, 20).counts : [];
  }, [scale]);
  const most = Math.max(1, ...counts);
  const step = 100 / Math.max(1, counts.length);
  return (
    <svg viewBox="0 0 100 50" preserveAspectRatio="none" className={own.histogram}>
      {counts.map((count, i) => (
        <rect
          key={i}
          x={i * step}
          width={step * 0.94}
          y={50 - (48 * count) / most}
          height={(48 * count) / most}
        />
      ))}
    </svg>
  );
}

interface ScatterProps {
  x: Float64Array;
  y: Float64Array;
  codes: Int32Array | undefined;
  marks: Mark[];
}

export function SmallScatter({ x, y, codes, marks }: ScatterProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const element = canvas.current;
    if (!element) return;
    const paint = () => {
      const sharp = window.devicePixelRatio;
      const { width, height } = element.getBoundingClientRect();
      element.width = Math.round(width * sharp);
      element.height = Math.round(height * sharp);
      const context = element.getContext('2d')!;
      context.scale(sharp, sharp);
      draw(context, { width, height }, x, y, codes, marks);
    };
    const watch = new ResizeObserver(paint);
    watch.observe(element);
    return () => watch.disconnect();
  }, [x, y, codes, marks]);
  // Beside the flow: a picture of its own height would make its cell as tall as it likes.
  return (
    <span className={own.picture}>
      <canvas ref={canvas} aria-hidden="true" />
    </span>
  );
}

function draw(
  context: CanvasRenderingContext2D,
  { width, height }: { width: number; height: number },
  x: Float64Array,
  y: Float64Array,
  codes: Int32Array | undefined,
  marks: Mark[],
) {
  const known = Array.from(x.keys()).filter((i) => !Number.isNaN(x[i]) && !Number.isNaN(y[i]));
  const points = everyFew(known.length, drawnAtMost).map((place) => known[place]);
  const across = ends(points, x);
  const up = ends(points, y);
  const radius = points.length > 800 ? 1 : 1.6;
  // Filled marks last: the rarer event must not be buried.
  const filled = (i: number) => Boolean(codes && codes[i] >= 0 && marks[codes[i]]?.filled);
  for (const wanted of [false, true])
    for (const i of points) {
      if (filled(i) !== wanted) continue;
      const mark = codes && codes[i] >= 0 ? marks[codes[i]] : undefined;
      const place = (value: number, [least, most]: [number, number], length: number) =>
        6 + ((value - least) / (most - least || 1)) * (length - 12);
      context.beginPath();
      context.arc(
        place(x[i], across, width),
        height - place(y[i], up, height),
        radius,
        0,
        2 * Math.PI,
      );
      context.strokeStyle = mark?.colour ?? plainColour;
      context.fillStyle = mark?.colour ?? plainColour;
      context.globalAlpha = points.length > 800 ? 0.55 : 0.8;
      context.lineWidth = 0.7;
      if (wanted) context.fill();
      else context.stroke();
    }
}

function ends(points: number[], values: Float64Array): [number, number] {
  let least = Infinity;
  let most = -Infinity;
  for (const i of points) {
    least = Math.min(least, values[i]);
    most = Math.max(most, values[i]);
  }
  return [least, most];
}
