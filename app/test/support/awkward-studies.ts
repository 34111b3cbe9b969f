import { randomStream } from '@rook-scale/core/numeric';
import type { Design } from '@rook-scale/core/design';
import type { Dictionary } from '@rook-scale/core/table';

/** A study that is made in code to try what pages and figures bear. */
export interface AwkwardStudy {
  name: string;
  /** Rows of text, the header first. The outcome is `event`, unless it is open. */
  rows: () => string[][];
  /** The level to find; absent where the design cannot be complete. */
  event?: string;
  edit?: (dictionary: Dictionary) => void;
  design?: Partial<Design>;
  /** A later list, where there is one. */
  list?: () => string[][];
  /** What kind of complaint the design or the cohort meets, instead of a fit. */
  refused?: true;
}

type Draw = ReturnType<typeof randomStream>;

/** Patients with an age, two labs, a sex and a ward; the risk follows age and the first lab. */
function ordinary(count: number, seed: string): string[][] {
  const draw = randomStream(11, seed);
  return [
    ['age', 'creatinine', 'crp', 'sex', 'ward', 'event'],
    ...Array.from({ length: count }, () => patient(draw)),
  ];
}

function patient(draw: Draw): string[] {
  const age = 45 + 30 * draw.uniform();
  const creatinine = Math.exp(4.4 + 0.3 * draw.normal());
  const risk = 1 / (1 + Math.exp(4 - (age - 45) / 15 - (creatinine - 80) / 60));
  return [
    age.toFixed(0),
    creatinine.toFixed(0),
    Math.exp(2 + draw.normal()).toFixed(1),
    draw.uniform() < 0.5 ? 'female' : 'male',
    ['North', 'South', 'East'][Math.floor(3 * draw.uniform())],
    draw.uniform() < risk ? 'yes' : 'no',
  ];
}

const change = (rows: string[][], column: string, to: (cell: string, row: number) => string) => {
  const place = rows[0].indexOf(column);
  return rows.map((row, i) =>
    i === 0 ? row : row.map((cell, j) => (j === place ? to(cell, i - 1) : cell)),
  );
};
const rename = (rows: string[][], names: Record<string, string>) => [
  rows[0].map((name) => names[name] ?? name),
  ...rows.slice(1),
];
const drop = (rows: string[][], column: string) => {
  const place = rows[0].indexOf(column);
  return rows.map((row) => row.filter((_, j) => j !== place));
};
const add = (rows: string[][], name: string, cell: (row: string[], i: number) => string) =>
  rows.map((row, i) => [...row, i === 0 ? name : cell(row, i - 1)]);

const long = 'Höchster gemessener Wert des C-reaktiven Proteins während der ersten Tage '
  .repeat(3)
  .slice(0, 199);

export const awkwardStudies: AwkwardStudy[] = [
  {
    name: 'separated outcome',
    event: 'yes',
    rows: () =>
      add(ordinary(300, 'separated'), 'score', (row) => (row.at(-1) === 'yes' ? '9' : '2')),
    list: () => add(ordinary(40, 'separated list'), 'score', (_, i) => String(i % 10)),
  },
  {
    name: 'one case',
    event: 'yes',
    refused: true,
    rows: () => change(ordinary(60, 'one case'), 'event', (_, row) => (row === 7 ? 'yes' : 'no')),
  },
  {
    name: 'few cases',
    event: 'yes',
    rows: () => change(ordinary(90, 'few'), 'event', (_, row) => (row % 11 === 3 ? 'yes' : 'no')),
    list: () => ordinary(12, 'few list'),
  },
  {
    name: 'one level',
    refused: true,
    event: 'no',
    rows: () => change(ordinary(50, 'one level'), 'event', () => 'no'),
  },
  {
    name: 'eighty-two columns',
    event: 'yes',
    rows: () => {
      const draw = randomStream(3, 'wide');
      let rows = ordinary(260, 'wide');
      for (let i = 1; i <= 76; i++)
        rows = add(rows, `laboratory measurement of the day before ${i}`, () =>
          draw.uniform() < 0.04 ? '' : (100 + 15 * draw.normal()).toFixed(6),
        );
      return rows;
    },
  },
  {
    name: 'three columns',
    event: 'yes',
    rows: () => drop(drop(drop(ordinary(120, 'three'), 'ward'), 'crp'), 'sex'),
    list: () => [
      ['age', 'creatinine'],
      ['70', '100'],
      ['40', ''],
    ],
  },
  {
    name: 'all gaps',
    event: 'yes',
    rows: () =>
      change(
        change(ordinary(140, 'gaps'), 'crp', () => ''),
        'creatinine',
        (cell, row) => (row % 3 === 0 ? cell : ''),
      ),
    list: () => change(ordinary(30, 'gaps list'), 'creatinine', () => ''),
  },
  {
    name: 'a list with every mismatch',
    event: 'yes',
    rows: () => ordinary(400, 'mismatch'),
    list: () =>
      drop(
        rename(
          change(
            change(ordinary(60, 'mismatch list'), 'ward', (cell, row) =>
              row % 4 === 0 ? 'Overflow ward of the new building' : cell,
            ),
            'creatinine',
            (cell) => (Number(cell) / 88.4).toFixed(13),
          ),
          { crp: 'c_reactive_protein_mg_l' },
        ),
        'sex',
      ),
  },
  {
    name: 'names of 200 characters and of other scripts',
    event: 'ήταν άρρωστος την επόμενη εβδομάδα',
    rows: () =>
      change(
        rename(
          change(ordinary(160, 'names'), 'ward', (cell) =>
            cell === 'North'
              ? 'الجناح الشمالي للمستشفى العام'
              : cell === 'South'
                ? `${long} ward`
                : '病棟',
          ),
          { crp: long, age: 'возраст', creatinine: '肌酐', ward: 'قسم' },
        ),
        'event',
        (cell) => (cell === 'yes' ? 'ήταν άρρωστος την επόμενη εβδομάδα' : 'δεν ήταν'),
      ),
    list: () => rename(ordinary(20, 'names list'), { age: 'возраст', creatinine: '肌酐' }),
  },
  {
    name: 'two patients',
    refused: true,
    event: 'yes',
    rows: () => change(ordinary(2, 'two'), 'event', (_, row) => (row === 0 ? 'yes' : 'no')),
  },
  {
    name: 'values of extreme size',
    event: 'yes',
    rows: () =>
      change(
        change(
          add(ordinary(200, 'extreme'), 'copies', (_, i) => String(1e12 + i * 3.7e9)),
          'creatinine',
          (cell) => String(Number(cell) * 1e-9),
        ),
        'crp',
        (cell, row) => (row % 50 === 0 ? '1e300' : cell),
      ),
    list: () => ordinary(10, 'extreme list'),
  },
  {
    name: 'numbers of two values',
    event: 'yes',
    edit: (dictionary) => {
      for (const entry of dictionary)
        if (entry.name === 'crp') Object.assign(entry, { kind: 'number', levels: undefined });
    },
    rows: () => change(ordinary(200, 'two values'), 'crp', (_, row) => String(row % 2)),
  },
  {
    name: 'a hundred thousand patients',
    event: 'yes',
    rows: () => ordinary(100_000, 'many'),
    list: () => ordinary(2_000, 'many list'),
  },
];
