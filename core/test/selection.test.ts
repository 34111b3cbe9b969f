import { describe, expect, it } from 'vitest';
import {
  everybody,
  keepsAll,
  selectionSchema,
  selectRows,
  type Selection,
} from '../src/selection/index.ts';
import { FormulaError } from '../src/formula/index.ts';
import { tableFromText } from '../src/table/index.ts';

const header = ['id', 'age', 'sex'];
const rows = [
  ['a', '17', 'f'],
  ['b', '40', 'm'],
  ['a', '18', 'f'],
  ['', '50', 'm'],
  ['b', '40', 'm'],
  ['', '50', 'm'],
  ['c', '', 'f'],
];
const table = (() => {
  const { dictionary } = tableFromText(header, rows);
  Object.assign(dictionary[0], { role: 'identifier', kind: 'text', levels: undefined });
  Object.assign(dictionary[1], { kind: 'number', role: 'predictor', levels: undefined });
  return tableFromText(header, rows, dictionary);
})();
const kept = (selection: Partial<Selection>) => {
  const { rows: left, flow } = selectRows(table, { ...everybody, ...selection });
  return { rows: [...left], flow };
};

describe('who is in', () => {
  it('is everybody when nothing is said', () => {
    expect(kept({})).toEqual({ rows: [0, 1, 2, 3, 4, 5, 6], flow: { came: 7, steps: [] } });
    expect(keepsAll(everybody)).toBe(true);
    expect(keepsAll({ duplicates: { by: 'identifier', keep: 'first' }, exclusions: [] })).toBe(
      false,
    );
  });

  it.each([
    ['identifier', 'first', [0, 1, 3, 5, 6]],
    ['identifier', 'last', [2, 3, 4, 5, 6]],
    ['identifier', 'none', [3, 5, 6]],
    ['all values', 'first', [0, 1, 2, 3, 6]],
    ['all values', 'last', [0, 2, 4, 5, 6]],
    ['all values', 'none', [0, 2, 6]],
  ] as const)('duplicates by %s, keep %s', (by, keep, left) => {
    expect(kept({ duplicates: { by, keep } }).rows).toEqual(left);
  });

  it('counts each patient at the first step that takes them out', () => {
    const { rows: left, flow } = kept({
      duplicates: { by: 'identifier', keep: 'last' },
      exclusions: [
        { condition: 'age < 18', reason: 'under 18' },
        { condition: "sex = 'm'", reason: 'men' },
        { condition: 'not known(age)', reason: 'age not known' },
      ],
    });
    expect(left).toEqual([2]);
    expect(flow).toEqual({
      came: 7,
      steps: [
        { why: 'duplicates (same identifier), last kept', out: 2, left: 5 },
        { why: 'under 18', out: 0, left: 5 },
        { why: 'men', out: 3, left: 2 },
        { why: 'age not known', out: 1, left: 1 },
      ],
    });
  });

  it('keeps patients of whom the condition cannot be said', () => {
    expect(kept({ exclusions: [{ condition: 'age < 100', reason: 'x' }] }).rows).toEqual([6]);
  });

  it('refuses conditions that are none, and reasons that are empty', () => {
    const wrong = (condition: string) => () => kept({ exclusions: [{ condition, reason: 'x' }] });
    expect(wrong('age + 1')).toThrow(FormulaError);
    expect(wrong('weight > 3')).toThrow(/no column weight/);
    const empty = { duplicates: null, exclusions: [{ condition: 'age < 1', reason: '  ' }] };
    expect(selectionSchema.safeParse(empty).error!.issues[0].message).toMatch(/Say why/);
  });
});
