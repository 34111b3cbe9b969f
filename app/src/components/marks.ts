/** How the patients of one level are drawn. Meaning never rests on colour alone. */
export interface Mark {
  level: string;
  colour: string;
  shape: 'circle' | 'rect' | 'triangle' | 'rectRot' | 'cross' | 'star' | 'crossRot' | 'rectRounded';
  filled: boolean;
}

/** Told apart by colour-blind readers too: Okabe & Ito (2008), without black, the house tones first. */
const apart = [
  '#3e6c99',
  '#c77d0a',
  '#009e73',
  '#cc79a7',
  '#56b4e9',
  '#d55e00',
  '#7a7a00',
  '#6b4f9c',
];
const shapes: Mark['shape'][] = [
  'circle',
  'rect',
  'triangle',
  'rectRot',
  'cross',
  'star',
  'crossRot',
  'rectRounded',
];

/** Marks of several levels: ordered ones on one ramp. */
export const marksOfLevels = (levels: string[], ordered: boolean): Mark[] =>
  levels.map((level, i) => ({
    level,
    colour:
      ordered || levels.length > apart.length
        ? ramp(levels.length > 1 ? i / (levels.length - 1) : 0)
        : apart[i],
    shape: shapes[i % shapes.length],
    filled: i % 2 === 1,
  }));

/** Steel → grey → marigold, each dark enough for a thin line on white. */
export function ramp(share: number): string {
  const stops = [
    [62, 108, 153],
    [122, 122, 130],
    [199, 125, 10],
  ];
  const place = Math.min(1, Math.max(0, share)) * 2;
  const from = Math.min(1, Math.floor(place));
  const part = place - from;
  const mix = stops[from].map((value, i) =>
    Math.round(value + part * (stops[from + 1][i] - value)),
  );
  return `rgb(${mix.join(' ')})`;
}
