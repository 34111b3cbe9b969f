import { describe, expect, it } from 'vitest';
import {
  caseRule,
  defaultDesign,
  designSchema,
  divide,
  fitKey,
  levelCostsOf,
  openQuestions,
  outcomeChoice,
  type Design,
} from '../../src/design/index.ts';
import { tableFromText } from '../../src/table/index.ts';

const patients = 300;
/** Grades of 180, 90 and 30 patients, and a number that runs from 0 to 299. */
const rows = Array.from({ length: patients }, (_, i) => [
  `P${i}`,
  String(20 + ((i * 7) % 60)),
  i < 180 ? 'none' : i < 270 ? 'mild' : 'severe',
  String((i * 77) % patients),
]);

function cohort(edit: (cells: string[], i: number) => string[] = (cells) => cells) {
  const header = ['reference', 'age', 'grade', 'creatinine'];
  const { dictionary } = tableFromText(header, rows);
  for (const entry of dictionary) {
    if (entry.name === 'reference') Object.assign(entry, { role: 'identifier' });
    if (entry.name === 'grade')
      Object.assign(entry, { kind: 'ordered category', levels: ['none', 'mild', 'severe'] });
  }
  return tableFromText(header, rows.map(edit), dictionary);
}

const design = (part: Partial<Design>): Design => ({
  ...defaultDesign,
  predictors: ['age'],
  ...part,
});
const grades = design({
  outcome: 'grade',
  kind: 'levels',
  reference: 'none',
  cases: ['mild', 'severe'],
});
const number = design({ outcome: 'creatinine', kind: 'number', caseFrom: 200 });

describe('costs of wrong levels', () => {
  const levelCosts = {
    levels: ['mild', 'none'],
    costs: [
      [0, 7],
      [2, 0],
    ],
  };

  it('are found by the names of the levels, whatever their order, and 1 for one that is new', () => {
    expect(levelCostsOf({ levelCosts }, ['none', 'mild', 'severe'])).toEqual([
      [0, 2, 1],
      [7, 0, 1],
      [1, 1, 0],
    ]);
    expect(levelCostsOf({ levelCosts: null }, ['none', 'mild'])).toBeUndefined();
  });

  it('do not enter the fit, and are refused where they are no table', () => {
    expect(fitKey({ ...grades, levelCosts })).toBe(fitKey(grades));
    const parse = (costs: number[][]) =>
      designSchema.parse({ ...grades, levelCosts: { levels: ['a', 'b'], costs } });
    expect(() => parse([[0, 1]])).toThrow(/a row and a column for every level/);
    expect(() =>
      parse([
        [0, -1],
        [1, 0],
      ]),
    ).toThrow(/not below 0/);
    const { levelCosts: _, ...older } = grades;
    expect(designSchema.parse(older).levelCosts).toBeNull();
  });
});

describe('a design of several levels', () => {
  const table = cohort();

  it('holds out the same share of every level, and deals each into all folds', () => {
    const { developmentRows, heldOutRows, folds, counts } = divide(table, grades);
    expect(counts.development.events + counts.heldOut.events).toBe(120);
    const levelOf = (row: number) => rows[row][2];
    const held = [...heldOutRows].map(levelOf);
    for (const [level, all] of [
      ['none', 180],
      ['mild', 90],
      ['severe', 30],
    ] as const)
      expect(Math.abs(held.filter((one) => one === level).length - all / 4)).toBeLessThan(1);
    for (let fold = 0; fold < 5; fold++) {
      const levels = [...developmentRows].filter((_, i) => folds[i] === fold).map(levelOf);
      expect(new Set(levels).size).toBe(3);
    }
  });

  it('divides alike whatever a case is, and is the same fit', () => {
    const narrower = { ...grades, cases: ['severe'] };
    expect(divide(table, narrower).sides).toEqual(divide(table, grades).sides);
    expect(divide(table, narrower).counts.heldOut.events).toBeLessThan(
      divide(table, grades).counts.heldOut.events,
    );
    expect(fitKey(narrower)).toBe(fitKey(grades));
    expect(fitKey({ ...grades, reference: 'mild' })).not.toBe(fitKey(grades));
  });

  it('refuses a level that the folds cannot all have, and names it', () => {
    const thin = cohort((cells, i) => (i >= 272 ? [cells[0], cells[1], 'mild', cells[3]] : cells));
    expect(() => divide(thin, grades)).toThrow(
      /a level to divide: severe \(2 of 300 patients\).*Merge levels in Records/,
    );
  });

  it('asks for reference and cases, of which some must be left over', () => {
    const { dictionary } = table;
    expect(openQuestions(grades, dictionary)).toEqual([]);
    expect(openQuestions({ ...grades, reference: '' }, dictionary)).toHaveLength(1);
    expect(openQuestions({ ...grades, cases: [] }, dictionary)).toHaveLength(1);
    expect(
      openQuestions({ ...grades, cases: ['none', 'mild', 'severe'] }, dictionary),
    ).toHaveLength(1);
    expect(outcomeChoice(grades, dictionary)).toMatchObject({ kind: 'levels', ordered: true });
    expect(caseRule(grades)).toEqual({ kind: 'levels', levels: ['mild', 'severe'] });
  });
});

describe('a design of a number', () => {
  const table = cohort();

  it('holds out the same share of every fifth', () => {
    const { heldOutRows } = divide(table, number);
    for (let fifth = 0; fifth < 5; fifth++) {
      const there = [...heldOutRows].filter((row) => {
        const value = Number(rows[row][3]);
        return value >= 60 * fifth && value < 60 * (fifth + 1);
      });
      expect(there.length).toBe(15);
    }
  });

  it('counts cases on the side that is said, and leaves out who has no number', () => {
    expect(divide(table, number).counts.development.events).toBeGreaterThan(60);
    const low = divide(table, { ...number, caseFrom: 19, caseSide: 'up to' });
    expect(low.counts.development.events + low.counts.heldOut.events).toBe(20);
    const gaps = cohort((cells, i) => (i % 10 === 0 ? [cells[0], cells[1], cells[2], ''] : cells));
    expect(divide(gaps, number).counts.unused).toBe(30);
  });

  it('refuses a value that makes a case of nobody, or of everybody', () => {
    expect(() => divide(table, { ...number, caseFrom: 1000 })).toThrow(/nothing to tell apart/);
    expect(() => divide(table, { ...number, caseFrom: -5 })).toThrow(/nothing to tell apart/);
  });
});

describe('designs from before there were kinds', () => {
  it('predict an event, as before, under the same key', () => {
    const old = {
      outcome: 'died',
      event: 'yes',
      predictors: ['b', 'a'],
      heldOutShare: 0.25,
      seed: 1,
      missedCost: 5,
      falseAlarmCost: 1,
    };
    const read = designSchema.parse(old);
    expect(read.kind).toBe('event');
    expect(fitKey(read)).toBe('["died","yes",["a","b"],0.25,1]');
  });
});
