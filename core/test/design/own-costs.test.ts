import { describe, expect, it } from 'vitest';
import {
  columnsOfCosts,
  defaultDesign,
  describeDesignChange,
  designSchema,
  fitKey,
  patientCosts,
} from '../../src/design/index.ts';
import { tableFromText } from '../../src/table/index.ts';

const table = tableFromText(
  ['stay', 'visit', 'ward'],
  [
    ['12', '1', 'a'],
    ['', '2', 'b'],
    ['-3', '0', 'a'],
    ['7.5', '', 'b'],
  ],
);
const design = designSchema.parse({
  ...defaultDesign,
  predictors: [],
  missedCost: 8,
  falseAlarmCost: 2,
  ownCosts: { missed: 'stay', falseAlarm: 'visit' },
});
const of = (missed: string, falseAlarm: string, rows = [0, 1, 2, 3]) =>
  patientCosts({ ...design, ownCosts: { missed, falseAlarm } }, table, rows);

describe('what errors cost each patient', () => {
  it('is what the columns say, and what it costs all where they say no cost', () => {
    expect(of('stay', 'visit')).toEqual({
      missed: Float64Array.of(12, 8, 8, 7.5),
      falseAlarm: Float64Array.of(1, 2, 0, 2),
    });
    expect(of('stay', '', [3, 0])).toEqual({
      missed: Float64Array.of(7.5, 12),
      falseAlarm: Float64Array.of(2, 2),
    });
  });

  it('is nothing of its own where no column of numbers is named', () => {
    expect(of('', '')).toBeUndefined();
    expect(of('ward', 'gone')).toBeUndefined();
    expect(columnsOfCosts(design)).toEqual(['stay', 'visit']);
    expect(columnsOfCosts({ ownCosts: { missed: 'stay', falseAlarm: 'stay' } })).toEqual(['stay']);
  });

  it('changes no fit, and is told as a change', () => {
    const before = { ...design, ownCosts: defaultDesign.ownCosts };
    expect(fitKey(design)).toBe(fitKey(before));
    expect(describeDesignChange(before, design, table.dictionary)).toBe(
      'a missed case costs what Stay says, a false alarm costs what Visit says',
    );
    expect(describeDesignChange(design, before, table.dictionary)).toContain(
      'a missed case costs the same for all',
    );
  });
});
