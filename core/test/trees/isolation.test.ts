import { describe, expect, it } from 'vitest';
import { randomStream } from '../../src/numeric/index.ts';
import type { Inputs } from '../../src/preparation/index.ts';
import { growIsolationForest, isolationScores, usualPath } from '../../src/trees/index.ts';
import { loadValues } from '../reference/load.ts';
import { madePatients, takenInputs } from './made-patients.ts';

const scoresOf = (inputs: Inputs, seed = 1) =>
  isolationScores(growIsolationForest(inputs, { seed }), inputs);

/** Places from the most unusual on. */
const ranked = (scores: Float64Array) =>
  [...scores.keys()].sort((one, other) => scores[other] - scores[one]);

// Reference values: `values/isolation_forest.json`, to 50 digits, after Liu, Ting & Zhou (2008).
describe('the usual path', () => {
  const { results } = loadValues<{
    results: {
      c: { n: number; approximate_with_rule_c2_is_1: number }[];
      scores: { n: number; mean_path_length: number; score_approximate: number }[];
    };
  }>('isolation_forest');
  it.each(results.c.map((one) => [one.n, one.approximate_with_rule_c2_is_1]))(
    'of %i patients is that of the reference',
    (count, expected) => {
      expect(usualPath(count)).toBeCloseTo(expected, 12);
    },
  );
  it('makes the scores of the reference', () => {
    for (const { n, mean_path_length: length, score_approximate: expected } of results.scores)
      expect(2 ** (-length / usualPath(n))).toBeCloseTo(expected, 12);
    expect([usualPath(0), usualPath(1)]).toEqual([0, 0]);
  });
});

describe('isolation scores', () => {
  it('are highest for patients planted far from the others, in numbers and in rare levels', () => {
    const draw = randomStream(11, 'crowd');
    const columns = Array.from({ length: 5 }, () =>
      Float64Array.from({ length: 2000 }, () => draw.normal()),
    );
    columns.push(Float64Array.from({ length: 2000 }, () => Number(draw.uniform() < 0.5)));
    const planted = [17, 400, 1203, 1999];
    for (const row of planted) {
      for (const column of columns.slice(0, 5)) column[row] = draw.uniform() < 0.5 ? 6 : -6;
      columns[5][row] = 2;
    }
    const inputs: Inputs = {
      rowCount: 2000,
      names: ['a', 'b', 'c', 'd', 'e', 'level'],
      columns,
      levels: [...Array<undefined>(5).fill(undefined), ['x', 'y', 'rare']],
    };
    const scores = scoresOf(inputs);
    expect(
      ranked(scores)
        .slice(0, 4)
        .toSorted((a, b) => a - b),
    ).toEqual(planted);
    for (const row of planted) expect(scores[row]).toBeGreaterThan(0.6);
    // Nobody else is far from what is usual.
    const rest = scores.filter((_, row) => !planted.includes(row));
    const mean = rest.reduce((sum, one) => sum + one, 0) / rest.length;
    expect(mean).toBeGreaterThan(0.35);
    expect(mean).toBeLessThan(0.5);
  });

  it('are the same whatever the order of patients and of columns, by the seed', () => {
    const { inputs } = madePatients(500);
    const once = scoresOf(inputs);
    const turned = Array.from({ length: 500 }, (_, row) => (row * 7) % 500);
    const again = scoresOf(takenInputs(inputs, turned));
    turned.forEach((row, i) => {
      expect(again[i]).toBe(once[row]);
    });
    const places = [3, 0, 2, 1];
    const moved: Inputs = {
      ...inputs,
      names: places.map((j) => inputs.names[j]),
      columns: places.map((j) => inputs.columns[j]),
      levels: places.map((j) => inputs.levels![j]),
    };
    expect([...scoresOf(moved)]).toEqual([...once]);
    expect([...scoresOf(inputs, 2)]).not.toEqual([...once]);
  });

  it('are all the same where nobody differs, and numbers where nothing is known', () => {
    const constant = { rowCount: 300, names: ['a'], columns: [new Float64Array(300).fill(4)] };
    expect(new Set(scoresOf(constant)).size).toBe(1);
    const empty = { rowCount: 30, names: ['a'], columns: [new Float64Array(30).fill(NaN)] };
    for (const score of scoresOf(empty)) expect(score).toBeCloseTo(0.5, 12);
    const one = { rowCount: 1, names: ['a'], columns: [Float64Array.of(1)] };
    expect([...scoresOf(one)]).toEqual([0.5]);
  });
});
