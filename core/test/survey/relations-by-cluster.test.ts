import { describe, expect, it } from 'vitest';
import { clustersOf } from '../../src/measures/index.ts';
import { logistic, randomStream } from '../../src/numeric/index.ts';
import { measured, outcomeOf, relateAll, type Relation } from '../../src/survey/index.ts';
import type { Column } from '../../src/table/index.ts';
import { roundsOf, slack } from '../simulation.ts';

const levels = (count: number) => Array.from({ length: count }, (_, k) => 'abcd'[k]);

/**
 * Patients with four rows each. Predictors and a part of the outcome are the patient's own; `slope` is the effect of
 * the number on the outcome, which the others do not have.
 */
function drawn(patients: number, seed: number, slope = 0) {
  const draw = randomStream(seed, 'survey of patients');
  const rows = 4 * patients;
  const number = new Float64Array(rows);
  const [two, three] = [new Int32Array(rows), new Int32Array(rows)];
  const result = new Float64Array(rows);
  const [event, graded] = [new Int32Array(rows), new Int32Array(rows)];
  let [x, a, b, shift] = [0, 0, 0, 0];
  for (let row = 0; row < rows; row++) {
    if (row % 4 === 0)
      [x, a, b, shift] = [
        draw.normal(),
        Number(draw.uniform() < 0.4),
        Math.floor(3 * draw.uniform()),
        1.5 * draw.normal(),
      ];
    [number[row], two[row], three[row]] = [x + 0.2 * draw.normal(), a, b];
    const linear = slope * number[row] + shift;
    event[row] = Number(draw.uniform() < logistic(linear));
    result[row] = linear + draw.normal();
    graded[row] = result[row] < -1 ? 0 : result[row] < 1 ? 1 : 2;
  }
  const coded = (codes: Int32Array, count: number): Column => ({
    ...{ type: 'coded', codes, levels: levels(count) },
  });
  const columns = [
    measured('number', 'number', { type: 'number', values: number }),
    measured('two', 'category', coded(two, 2)),
    measured('three', 'category', coded(three, 3)),
  ];
  const outcomes = {
    event: outcomeOf(coded(event, 2), 'category')!,
    levels: outcomeOf(coded(graded, 3), 'category')!,
    number: outcomeOf({ type: 'number', values: result }, 'number')!,
  };
  const clusters = clustersOf(Int32Array.from({ length: rows }, (_, row) => row >> 2))!;
  return { columns, outcomes, clusters };
}

type Shape = keyof ReturnType<typeof drawn>['outcomes'];
const shapes: Shape[] = ['event', 'levels', 'number'];
const one = (relations: Relation[], name: string) => relations.find((r) => r.name === name)!;

describe('relations where patients have several rows', () => {
  it.each(shapes)('to an outcome of shape %s: p is below 0.05 one time in twenty', (shape) => {
    const rounds = roundsOf(400);
    const below: Record<string, number> = { number: 0, two: 0, three: 0, 'two by row': 0 };
    for (let round = 0; round < rounds; round++) {
      const { columns, outcomes, clusters } = drawn(80, round);
      const relations = relateAll(columns, outcomes[shape], clusters);
      for (const { name, p } of relations) below[name] += Number(p < 0.05) / rounds;
      const byRow = one(relateAll(columns, outcomes[shape]), 'two');
      below['two by row'] += Number(byRow.p < 0.05) / rounds;
    }
    for (const name of ['number', 'two', 'three']) {
      expect(Math.abs(below[name] - 0.05), name).toBeLessThan(slack(0.05, rounds));
    }
    expect(below['two by row']).toBeGreaterThan(0.12);
  });

  it('hold the true AUC, differences, odds ratio and rank correlation in 95 of 100 cohorts', () => {
    const truth = drawn(40_000, 1, 0.5);
    const [event, number] = [truth.outcomes.event, truth.outcomes.number].map((outcome) =>
      relateAll(truth.columns, outcome),
    );
    const figures: [string, (relations: { event: Relation; number: Relation }) => unknown][] = [
      ['AUC', ({ event: e }) => e.strength],
      ['difference', ({ event: e }) => e.difference],
      ['odds ratio', ({ event: e }) => e.oddsRatio],
      ['Spearman', ({ number: n }) => n.strength],
    ];
    type Figure = { value: number; interval: [number, number] };
    const of = (at: number, pair: Parameters<(typeof figures)[0][1]>[0]) =>
      figures[at][1](pair) as Figure;
    const right = figures.map(
      (_, at) => of(at, { event: one(event, 'number'), number: one(number, 'number') }).value,
    );
    const held = figures.map(() => 0);
    const byRow = figures.map(() => 0);
    const rounds = roundsOf(400);
    for (let round = 0; round < rounds; round++) {
      const { columns, outcomes, clusters } = drawn(80, 5000 + round, 0.5);
      for (const by of [clusters, undefined]) {
        const pair = {
          event: one(relateAll(columns, outcomes.event, by), 'number'),
          number: one(relateAll(columns, outcomes.number, by), 'number'),
        };
        figures.forEach((_, at) => {
          const { interval } = of(at, pair);
          const holds = interval[0] <= right[at] && right[at] <= interval[1];
          (by ? held : byRow)[at] += Number(holds) / rounds;
        });
      }
    }
    figures.forEach(([name], at) => {
      expect(Math.abs(held[at] - 0.95), name).toBeLessThan(slack(0.95, rounds));
      expect(byRow[at], `${name} by row`).toBeLessThan(0.88);
    });
  });

  it.each(shapes)('with one row a patient agree with those by row (%s)', (shape) => {
    const { columns, outcomes } = drawn(400, 3, 0.1);
    const single = { codes: Int32Array.from({ length: 1600 }, (_, row) => row), count: 1600 };
    const [mine, plain] = [
      relateAll(columns, outcomes[shape], single),
      relateAll(columns, outcomes[shape]),
    ];
    mine.forEach(({ name, p, strength }) => {
      const other = one(plain, name);
      expect(strength.value).toBe(other.strength.value);
      expect(Math.abs(Math.log((p + 1e-6) / (other.p + 1e-6)))).toBeLessThan(0.1);
    });
  });

  it('do not depend on units, and bear a column known of one patient only', () => {
    const { columns, outcomes, clusters } = drawn(60, 9, 0.4);
    const scaled = columns.map((column) =>
      column.column.type === 'number'
        ? measured('number', 'number', {
            type: 'number',
            values: column.column.values.map((value) => value * 1000),
          })
        : column,
    );
    for (const shape of shapes)
      expect(relateAll(scaled, outcomes[shape], clusters).map(({ p }) => p)).toEqual(
        relateAll(columns, outcomes[shape], clusters).map(({ p }) => p),
      );
    const values = Float64Array.from({ length: 240 }, (_, row) => (row < 4 ? row : NaN));
    const lone = measured('lone', 'number', { type: 'number', values });
    for (const shape of shapes)
      for (const { p } of relateAll([lone], outcomes[shape], clusters))
        expect(Number.isNaN(p)).toBe(true);
  });
});
