import type { Chart, ChartConfiguration, Plugin } from 'chart.js';
import { useEffect, useRef, type ReactNode } from 'react';
import styles from './ChartFrame.module.css';
import { FigureFrame } from './FigureFrame.tsx';

type Kind = 'line' | 'bar' | 'scatter';
interface Point {
  x: number;
  y: number;
}
export type FigureConfiguration = ChartConfiguration<Kind, Point[]>;
export type LineConfiguration = ChartConfiguration<'line', Point[]>;

interface Props {
  title: ReactNode;
  /** One sentence that says what the chart shows, in words computed from the data. */
  caption: string;
  configuration: FigureConfiguration | LineConfiguration;
  /** Controls beside the title. */
  controls?: ReactNode;
  /** Head and rows behind the drawing, for "copy the numbers". */
  numbers: () => (string | number)[][];
  fileName: string;
  height?: number;
  /** As wide as high, for two axes of the same kind. */
  square?: boolean;
  /** Where the cutoff stands, in the chart's own numbers; moving it redraws the mark alone. */
  mark?: Mark;
}

interface Mark {
  x: number;
  y: number;
  /** With a line from top to bottom. */
  upright?: boolean;
}

/** The one place where Chart.js is set up: our type, rules, colours, and what can be done with a chart. */
export function ChartFrame(props: Props) {
  const {
    title,
    caption,
    configuration,
    controls,
    numbers,
    fileName,
    height = 190,
    mark,
    square,
  } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart<Kind, Point[]>>(null);
  const overlay = useRef<HTMLDivElement>(null);
  const marked = useRef(mark);
  useEffect(() => {
    marked.current = mark;
    placeMark(overlay.current, chart.current, mark);
  }, [mark]);
  useEffect(() => {
    let wanted = true;
    let made: Chart<Kind, Point[]> | undefined;
    // Brought when the first chart is drawn: half of the pages have none.
    void import('./chart.ts').then(({ Chart }) => {
      if (!wanted || !canvas.current) return;
      made = new Chart(
        canvas.current,
        withHouseStyle(configuration, (drawn) => placeMark(overlay.current, drawn, marked.current)),
      );
      chart.current = made;
      void document.fonts.ready.then(() => chart.current === made && made?.update('none'));
    });
    return () => {
      wanted = false;
      made?.destroy();
      chart.current = null;
    };
  }, [configuration]);
  return (
    <FigureFrame
      title={title}
      caption={caption}
      controls={controls}
      numbers={numbers}
      fileName={fileName}
      picture={() => pictureOf(chart.current, marked.current)}
    >
      <div style={{ height }} className={`${styles.canvas} ${square ? styles.square : ''}`}>
        <canvas ref={canvas} role="img" aria-label={caption} />
        {mark && <div ref={overlay} className={mark.upright ? styles.upright : styles.ring} />}
      </div>
    </FigureFrame>
  );
}

const white: Plugin<Kind> = {
  id: 'white-sheet',
  beforeDraw({ ctx, width, height }) {
    ctx.save();
    ctx.fillStyle = '#ffffff';
    ctx.fillRect(0, 0, width, height);
    ctx.restore();
  },
};

/**
 * Puts the mark where the cutoff stands. It lies over the drawing, so that dragging it moves one small
 * element and paints nothing else.
 */
function placeMark(
  element: HTMLElement | null,
  chart: Chart<Kind, Point[]> | null,
  mark: Mark | undefined,
): void {
  if (!element || !chart || !mark) return;
  const { scales, chartArea } = chart;
  const x = scales.x.getPixelForValue(mark.x);
  const y = scales.y.getPixelForValue(mark.y);
  element.style.transform = `translate(${x}px, ${mark.upright ? chartArea.top : y}px)`;
  if (mark.upright) {
    element.style.height = `${chartArea.bottom - chartArea.top}px`;
    element.style.setProperty('--at', `${y - chartArea.top}px`);
  }
}

/** The drawing with its mark, as an image. */
function pictureOf(chart: Chart<Kind, Point[]> | null, mark: Mark | undefined): string {
  if (!chart) return '';
  if (mark) drawMark(chart, mark);
  const image = chart.toBase64Image();
  if (mark) chart.draw();
  return image;
}

function drawMark({ ctx, scales, chartArea }: Chart<Kind, Point[]>, mark: Mark): void {
  const x = scales.x.getPixelForValue(mark.x);
  const y = scales.y.getPixelForValue(mark.y);
  ctx.save();
  ctx.strokeStyle = '#5b3fa0';
  if (mark.upright) {
    ctx.lineWidth = 1;
    ctx.beginPath();
    ctx.moveTo(x, chartArea.top);
    ctx.lineTo(x, chartArea.bottom);
    ctx.stroke();
  }
  ctx.lineWidth = 2.5;
  ctx.fillStyle = '#ffffff';
  ctx.beginPath();
  ctx.arc(x, y, 4.5, 0, 2 * Math.PI);
  ctx.fill();
  ctx.stroke();
  ctx.restore();
}

/** Says when the drawing has its places: at first, and after every change of size. */
function placesPlugin(placed: (chart: Chart<Kind, Point[]>) => void): Plugin<Kind> {
  return {
    id: 'places-known',
    afterDraw: (chart) => placed(chart as Chart<Kind, Point[]>),
  };
}

function withHouseStyle(
  configuration: FigureConfiguration,
  placed: (chart: Chart<Kind, Point[]>) => void,
): FigureConfiguration {
  const font = { family: "'Atkinson Hyperlegible Mono Variable', monospace", size: 12 };
  const scales = configuration.options?.scales ?? {};
  const styled = Object.fromEntries(
    Object.entries(scales).map(([name, scale]) => [
      name,
      {
        ...scale,
        border: { color: '#171a21' },
        grid: { color: '#e3e7eb', tickColor: '#9aa4b0', ...scale?.grid },
        ticks: { font, color: '#4a5361', maxRotation: 0, ...scale?.ticks },
        title: {
          display: true,
          color: '#4a5361',
          font: { family: "'Atkinson Hyperlegible Next Variable', sans-serif", size: 12 },
          ...(scale as { title?: object }).title,
        },
      },
    ]),
  );
  return {
    ...configuration,
    plugins: [white, placesPlugin(placed), ...(configuration.plugins ?? [])],
    options: {
      animation: false,
      responsive: true,
      maintainAspectRatio: false,
      ...configuration.options,
      scales: styled,
    },
  };
}
