import type { FigureConfiguration, Mark } from '../../../components/index.ts';
import { plainColour } from '../marks.ts';

interface Side {
  values: ArrayLike<number>;
  name: string;
  show: (value: number) => string;
}

export interface ScatterOptions {
  x: Side;
  y: Side;
  /** Positions of the patients that are drawn. */
  points: number[];
  /** Level of each patient by which the marks differ. */
  codes?: Int32Array;
  marks: Mark[];
  line?: { x: number; y: number }[];
  jitter?: boolean;
  /** What a patient is called on hover. */
  nameOf: (patient: number) => string;
}

/** Patients as marks, an event filled, none as a ring; those of unknown level are small grey crosses. */
export function scatterConfiguration(options: ScatterOptions): FigureConfiguration {
  const { x, y, points, codes, marks, line = [], jitter = false, nameOf } = options;
  const groups = codes
    ? [
        ...marks.map((_, code) => points.filter((i) => codes[i] === code)),
        points.filter((i) => codes[i] < 0),
      ]
    : [points];
  const move = jitter ? [stepOf(x.values), stepOf(y.values)] : [0, 0];
  const size = points.length > 5000 ? 1.5 : points.length > 1500 ? 2 : 3;
  // The rarer level is drawn above the others, where it can be seen.
  const order = groups.map((_, g) => g).sort((a, b) => groups[b].length - groups[a].length);
  return {
    type: 'scatter',
    data: {
      datasets: [
        ...(line.length > 0
          ? [
              {
                type: 'line' as const,
                label: 'line',
                data: line,
                borderColor: '#171a21',
                borderWidth: 2,
                pointRadius: 0,
                pointHitRadius: 0,
                order: -100,
              },
            ]
          : []),
        ...order.map((g, place) => {
          const mark = codes ? marks[g] : undefined;
          const colour = mark?.colour ?? (codes ? '#7d8794' : plainColour);
          return {
            type: 'scatter' as const,
            label: mark?.level ?? (codes ? 'not known' : ''),
            data: groups[g].map((i) => ({
              x: x.values[i] + move[0] * spread(i, 1),
              y: y.values[i] + move[1] * spread(i, 2),
              patient: i,
            })),
            pointStyle: mark?.shape ?? (codes ? ('crossRot' as const) : ('circle' as const)),
            pointRadius: size,
            pointHoverRadius: size + 2,
            borderColor: faint(colour, points.length),
            backgroundColor: mark?.filled ? faint(colour, points.length) : 'transparent',
            borderWidth: 1,
            order: -place,
          };
        }),
      ],
    },
    options: {
      scales: {
        x: axis(x),
        y: axis(y),
      },
      plugins: {
        tooltip: {
          displayColors: false,
          filter: ({ dataset }, index) => dataset.type === 'scatter' && index < 4,
          callbacks: {
            label: ({ dataset, raw }) => {
              const { patient } = raw as { patient: number };
              const level = dataset.label ? `, ${dataset.label}` : '';
              return `${nameOf(patient)}: ${x.show(x.values[patient])}, ${y.show(y.values[patient])}${level}`;
            },
          },
        },
      },
    },
  };
}

function axis({ name, show }: Side) {
  return {
    type: 'linear' as const,
    title: { text: name },
    ticks: { maxTicksLimit: 8, callback: (value: number | string) => show(Number(value)) },
  };
}

/** The smallest distance between different values: jitter stays within half of it. */
function stepOf(values: ArrayLike<number>): number {
  const different = [...new Set(Array.from(values).filter((value) => !Number.isNaN(value)))]
    .slice(0, 5000)
    .sort((a, b) => a - b);
  let least = Infinity;
  for (let i = 1; i < different.length; i++)
    least = Math.min(least, different[i] - different[i - 1]);
  return Number.isFinite(least) ? 0.8 * least : 0;
}

/** -0.5 to 0.5, always the same for a patient, so that a redraw does not make the points dance. */
function spread(patient: number, axisNumber: number): number {
  const mixed = Math.sin(patient * 12.9898 + axisNumber * 78.233) * 43_758.5453;
  return mixed - Math.floor(mixed) - 0.5;
}

function faint(colour: string, points: number): string {
  if (!colour.startsWith('#')) return colour;
  return colour + (points > 5000 ? '77' : points > 1500 ? 'aa' : 'dd');
}
