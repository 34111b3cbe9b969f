import { describe, expect, it } from 'vitest';
import { families, FitObstacle } from '../../src/families/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import type { Outcome, OutcomeKind } from '../../src/outcome/index.ts';
import { readJson, writeJson } from '../../src/stored/index.ts';
import { defaultsOf } from '../families/fit-event.ts';

const draw = randomStream(51, 'numbers in JSON');

/** Any JSON, with numbers that JSON has no form for among them. */
function anything(depth: number): unknown {
  const odd = [Infinity, -Infinity, NaN, null, 0, -0.5, 1e300, true, 'null', '$number', ''];
  const kind = Math.floor((depth > 0 ? 4 : 2) * draw.uniform());
  if (kind < 2) return odd[Math.floor(odd.length * draw.uniform())];
  const parts = Array.from({ length: Math.floor(5 * draw.uniform()) }, () => anything(depth - 1));
  return kind === 2 ? parts : Object.fromEntries(parts.map((part, i) => [`k${i}`, part]));
}

describe('JSON with numbers that are not finite', () => {
  it('comes back as it was', () => {
    for (let round = 0; round < 2000; round++) {
      const value = anything(4);
      expect(readJson(writeJson(value))).toEqual(value);
    }
  });

  it('is plain JSON where all numbers are finite', () => {
    const value = { a: [1, null, 'null'], b: { c: -0.5 } };
    expect(writeJson(value)).toBe(JSON.stringify(value));
    expect(writeJson({ aic: -Infinity })).toBe('{"aic":{"$number":"-Infinity"}}');
    // What merely looks like it stays.
    const text = '{"$number":"seven","other":{"$number":3}}';
    expect(readJson(text)).toEqual(JSON.parse(text));
  });
});

/** Outcomes that follow from the inputs without error, or do not vary at all. */
const columns = [0, 1, 2].map((j) =>
  Float64Array.from({ length: 60 }, (_, i) => ((i * (j + 3)) % 17) + j * 0.5),
);
const inputs = { rowCount: 60, names: ['a', 'b', 'c'], columns };
const exact = columns[0].map((value, i) => 2 * value - columns[1][i]);
const kinds: { [K in OutcomeKind]: Outcome<K>[] } = {
  event: [
    { kind: 'event', values: Int8Array.from(exact, (value) => Number(value > 9)) },
    { kind: 'event', values: new Int8Array(60) },
  ],
  levels: [
    {
      kind: 'levels',
      values: Int32Array.from(exact, (value) => Number(value > 5) + Number(value > 15)),
      levels: ['none', 'mild', 'severe'],
      ordered: true,
    },
  ],
  number: [
    { kind: 'number', values: exact },
    { kind: 'number', values: new Float64Array(60).fill(7) },
  ],
};

describe('what every family shows of an exact fit, or of an outcome that does not vary', () => {
  const able = families.filter(({ description: { fixed, composed } }) => !fixed && !composed);
  it.each(
    able.flatMap((family) =>
      family.description.outcomes.map((kind) => [family.description.name, kind, family] as const),
    ),
  )('%s, %s: crosses the wire without losing a number', (_name, kind, family) => {
    for (const outcome of kinds[kind]) {
      let facets: unknown;
      try {
        const result = family.fit(inputs, outcome, defaultsOf(family), { seed: 1 });
        facets = [result.describe(), result.warnings, result.size ?? {}];
      } catch (error) {
        expect(error).toBeInstanceOf(FitObstacle);
        continue;
      }
      const back = readJson(writeJson(facets));
      expect(numbersIn(back)).toEqual(numbersIn(facets));
    }
  });
});

/** Every number of a structure, in order. */
function numbersIn(value: unknown): number[] {
  // JSON has no negative zero.
  if (typeof value === 'number') return [value + 0];
  if (Array.isArray(value)) return value.flatMap(numbersIn);
  if (typeof value === 'object' && value !== null) return Object.values(value).flatMap(numbersIn);
  return [];
}
