import {
  Chart,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
  type ChartConfiguration,
  type Plugin,
} from 'chart.js';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import styles from './ChartFrame.module.css';

Chart.register(LinearScale, LineController, LineElement, PointElement, Tooltip);

export type LineConfiguration = ChartConfiguration<'line', { x: number; y: number }[]>;

interface Props {
  title: ReactNode;
  /** One sentence that says what the chart shows, in words computed from the data. */
  caption: string;
  configuration: LineConfiguration;
  /** Head and rows behind the drawing, for "copy the numbers". */
  numbers: () => (string | number)[][];
  fileName: string;
  height?: number;
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
  const { title, caption, configuration, numbers, fileName, height = 190, mark } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const chart = useRef<Chart<'line', { x: number; y: number }[]>>(null);
  const marked = useRef(mark);
  const [copied, setCopied] = useState(false);
  useEffect(() => {
    marked.current = mark;
    chart.current?.draw();
  }, [mark]);
  useEffect(() => {
    if (!canvas.current) return;
    const made = new Chart(
      canvas.current,
      withHouseStyle(configuration, () => marked.current),
    );
    chart.current = made;
    void document.fonts.ready.then(() => chart.current === made && made.update('none'));
    return () => {
      made.destroy();
      chart.current = null;
    };
  }, [configuration]);
  const copy = () => {
    const text = numbers()
      .map((row) => row.join('\t'))
      .join('\n');
    void navigator.clipboard.writeText(text).then(() => {
      setCopied(true);
      setTimeout(() => setCopied(false), 2000);
    });
  };
  const save = () => {
    const link = document.createElement('a');
    link.href = chart.current?.toBase64Image() ?? '';
    link.download = `${fileName}.png`;
    link.click();
  };
  return (
    <figure className={styles.frame}>
      <h2>{title}</h2>
      <div style={{ height }} className={styles.canvas}>
        <canvas ref={canvas} role="img" aria-label={caption} />
      </div>
      <figcaption className={styles.caption}>
        {caption}{' '}
        <span className={styles.acts}>
          <button type="button" className="link" onClick={copy}>
            {copied ? 'Copied' : 'Copy the numbers'}
          </button>
          <button type="button" className="link" onClick={save}>
            Save as PNG
          </button>
        </span>
      </figcaption>
    </figure>
  );
}

const white: Plugin<'line'> = {
  id: 'white-sheet',
  beforeDraw({ ctx, width, height }) {
    ctx.save();
    ctx.fillStyle = '#ffffff';
    ctx.fillRect(0, 0, width, height);
    ctx.restore();
  },
};

/** The ring that shows where the cutoff stands. */
function markPlugin(where: () => Mark | undefined): Plugin<'line'> {
  return {
    id: 'cutoff-mark',
    afterDatasetsDraw({ ctx, scales, chartArea }) {
      const mark = where();
      if (!mark) return;
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
    },
  };
}

function withHouseStyle(
  configuration: LineConfiguration,
  where: () => Mark | undefined,
): LineConfiguration {
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
    plugins: [white, markPlugin(where)],
    options: {
      animation: false,
      responsive: true,
      maintainAspectRatio: false,
      ...configuration.options,
      scales: styled,
    },
  };
}
