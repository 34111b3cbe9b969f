import { describe, expect, it } from 'vitest';
import { randomStream } from '../../src/numeric/index.ts';
import {
  associationMap,
  grouped,
  momentsOfGroups,
  outcomeOf,
  rankSumTest,
  relateAll,
  type Measured,
} from '../../src/survey/index.ts';

// Made-up columns with gaps and ties, and each figure worked out the long way, as its definition
// reads: over lists of patients, by sorting and by counting pairs.

const patients = 240;
const draw = randomStream(23, 'by definition');
const gap = (share: number) => draw.uniform() < share;
const severity = Array.from({ length: patients }, () => draw.normal());

function number(name: string, decimals: number, gaps: number): Measured {
  const values = Float64Array.from(severity, (severe) =>
    gap(gaps) ? NaN : Number((50 + 8 * severe + 10 * draw.normal()).toFixed(decimals)),
  );
  return { name, kind: 'number', column: { type: 'number', values } };
}

function coded(
  name: string,
  kind: 'category' | 'ordered category' | 'yes/no',
  levels: string[],
  gaps: number,
): Measured {
  const codes = Int32Array.from(severity, (severe) => {
    const place = Math.floor((levels.length * (severe + draw.normal() + 3)) / 6);
    return gap(gaps) ? -1 : Math.min(levels.length - 1, Math.max(0, place));
  });
  return { name, kind, column: { type: 'coded', codes, levels } };
}

const columns: Measured[] = [
  number('whole', 0, 0),
  number('fine', 9, 0.1),
  number('coarse', 0, 0.3),
  coded('two', 'yes/no', ['no', 'yes'], 0),
  coded('two with gaps', 'yes/no', ['no', 'yes'], 0.2),
  coded('grade', 'ordered category', ['1', '2', '3', '4'], 0.1),
  coded('ward', 'category', ['a', 'b', 'c'], 0.1),
  coded('site', 'category', ['x', 'y', 'z', 'u', 'never seen'], 0),
];

const scaleOf = ({ column }: Measured): (number | undefined)[] => {
  if (column.type === 'number')
    return Array.from(column.values, (value) => (Number.isNaN(value) ? undefined : value));
  if (column.type === 'coded')
    return Array.from(column.codes, (code) => (code < 0 ? undefined : code));
  throw new Error('text');
};

/** The pairs of patients' values where both are known. */
function both(a: Measured, b: Measured): [number, number][] {
  const [x, y] = [scaleOf(a), scaleOf(b)];
  return x.flatMap((value, i): [number, number][] =>
    value === undefined || y[i] === undefined ? [] : [[value, y[i]]],
  );
}

const mean = (list: number[]) => list.reduce((sum, value) => sum + value, 0) / list.length;
const squares = (list: number[]) => {
  const centre = mean(list);
  return list.reduce((sum, value) => sum + (value - centre) ** 2, 0);
};

function pearson(pairs: [number, number][]): number {
  const [x, y] = [pairs.map(([a]) => a), pairs.map(([, b]) => b)];
  const [meanX, meanY] = [mean(x), mean(y)];
  const products = pairs.reduce((sum, [a, b]) => sum + (a - meanX) * (b - meanY), 0);
  return products / Math.sqrt(squares(x) * squares(y));
}

/** Rank by counting who is below, and half of who is level. */
const ranks = (list: number[]) =>
  list.map((value) => {
    const below = list.filter((other) => other < value).length;
    const level = list.filter((other) => other === value).length;
    return below + (level + 1) / 2;
  });

function spearman(pairs: [number, number][]): number {
  const [x, y] = [ranks(pairs.map(([a]) => a)), ranks(pairs.map(([, b]) => b))];
  return pearson(x.map((rank, i) => [rank, y[i]]));
}

/** Root of the share of the variance of the first that lies between the levels of the second. */
function correlationRatio(pairs: [number, number][]): number {
  const all = pairs.map(([a]) => a);
  const levels = [...new Set(pairs.map(([, b]) => b))];
  const within = levels.reduce(
    (sum, level) => sum + squares(pairs.flatMap(([a, b]) => (b === level ? [a] : []))),
    0,
  );
  return Math.sqrt(1 - within / squares(all));
}

function cramer(pairs: [number, number][]): number {
  const [rows, cells] = [new Set(pairs.map(([a]) => a)), new Set(pairs.map(([, b]) => b))];
  let statistic = 0;
  for (const row of rows)
    for (const cell of cells) {
      const share = (test: (pair: [number, number]) => boolean) => pairs.filter(test).length;
      const expected = (share(([a]) => a === row) * share(([, b]) => b === cell)) / pairs.length;
      const found = share(([a, b]) => a === row && b === cell);
      statistic += (found - expected) ** 2 / expected;
    }
  return Math.sqrt(statistic / pairs.length / (Math.min(rows.size, cells.size) - 1));
}

const isCategory = ({ column, kind }: Measured) =>
  column.type === 'coded' && column.levels.length > 2 && kind !== 'ordered category';

function byDefinition(a: Measured, b: Measured, ranked: boolean): [measure: string, value: number] {
  const pairs = both(a, b);
  if (isCategory(a) || isCategory(b)) {
    if (a.column.type === 'coded' && b.column.type === 'coded')
      return ['Cramér’s V', cramer(pairs)];
    return [
      'correlation ratio',
      correlationRatio(isCategory(b) ? pairs : pairs.map(([x, y]) => [y, x])),
    ];
  }
  const numbers = [a, b].filter(({ kind }) => kind === 'number').length;
  if ([a, b].some(({ kind }) => kind === 'ordered category') || (ranked && numbers === 2))
    return ['Spearman', spearman(pairs)];
  return [['phi', 'point-biserial', 'Pearson'][numbers], pearson(pairs)];
}

describe.each([true, false])('every pair of mixed columns (by rank: %s)', (ranked) => {
  const map = associationMap(columns, ranked);
  const pairs = columns.flatMap((a, i) => columns.slice(0, i).map((b, j) => ({ a, b, i, j })));
  it.each(pairs.map(({ a, b, i, j }) => [a.name, b.name, i, j] as const))(
    '%s with %s is what the definition says',
    (_a, _b, i, j) => {
      const cell = map.cells[i][j]!;
      const [measure, value] = byDefinition(columns[i], columns[j], ranked);
      expect(cell.measure).toBe(measure);
      expect(cell.value).toBeCloseTo(value, 11);
      expect(cell.patients).toBe(both(columns[i], columns[j]).length);
    },
  );
});

describe('each column against an event', () => {
  const outcome = coded('event', 'yes/no', ['no', 'yes'], 0.1);
  const relations = relateAll(columns, outcomeOf(outcome.column, outcome.kind, 'yes')!);
  const withAuc = columns.filter((column) => !isCategory(column));

  it.each(withAuc.map((column) => [column.name, column] as const))(
    '%s: the AUC is the share of pairs in which the event is higher',
    (name, column) => {
      const pairs = both(column, outcome);
      const [event, none] = [1, 0].map((level) =>
        pairs.flatMap(([value, code]) => (code === level ? [value] : [])),
      );
      let higher = 0;
      for (const x of event) for (const y of none) higher += x > y ? 1 : x === y ? 0.5 : 0;
      const found = relations.find((relation) => relation.name === name)!;
      expect(found.patients).toBe(pairs.length);
      expect(found.strength.value).toBeCloseTo(higher / (event.length * none.length), 12);
      const two = grouped([none, event]);
      expect(rankSumTest(two)!.u).toBe(higher);
      const moments = momentsOfGroups(two);
      [none, event].forEach((list, g) => {
        expect(moments.means[g]).toBeCloseTo(mean(list), 12);
        expect(moments.squares[g] / squares(list)).toBeCloseTo(1, 12);
      });
    },
  );

  it('counts each pair of levels where both are known', () => {
    const ward = relations.find(({ name }) => name === 'ward')!;
    expect(ward.measure).toBe('Cramér’s V');
    expect(ward.strength.value).toBeCloseTo(cramer(both(columns[6], outcome)), 12);
  });
});
