import { describe, expect, it } from 'vitest';
import { describePredictors } from '../../src/model/index.ts';
import { randomStream } from '../../src/numeric/index.ts';
import { displacedColumn, factorBack } from '../../src/screening/displaced.ts';
import { tableFromText } from '../../src/table/index.ts';

const draw = randomStream(17, 'displaced columns');
const normal = (count: number) => Float64Array.from({ length: count }, () => draw.normal());
/** Labs as they are distributed: symmetric, skewed, very skewed, and one that crosses zero. */
const kinds: Record<string, (z: number) => number> = {
  sodium: (z) => 139 + 3 * z,
  creatinine: (z) => 85 * Math.exp(0.35 * z),
  'C-reactive protein': (z) => 6 * Math.exp(1.3 * z),
  'worst area': (z) => 750 * Math.exp(0.55 * z),
  'base excess': (z) => -1 + 3 * z,
};

const describeColumn = (name: string, values: Float64Array) => {
  const table = tableFromText(
    [name],
    Array.from(values, (value) => [String(value)]),
  );
  return describePredictors(table, [name], Int32Array.from(values.keys()))[0];
};

describe.each(Object.entries(kinds))('a column like %s', (name, of) => {
  const predictor = describeColumn(name, normal(400).map(of));

  it('of patients like the development patients is not displaced', () => {
    let found = 0;
    for (let list = 0; list < 300; list++) {
      const size = 5 + Math.floor(60 * draw.uniform());
      found += Number(displacedColumn(predictor, normal(size).map(of)) !== undefined);
    }
    expect(found).toBeLessThanOrEqual(3);
  });

  it('of other patients, half an SD away, is seldom displaced', () => {
    let found = 0;
    for (let list = 0; list < 100; list++)
      found += Number(
        displacedColumn(
          predictor,
          normal(60).map((z) => of(z + 0.5)),
        ) !== undefined,
      );
    expect(found).toBeLessThanOrEqual(5);
  });

  it('in another unit is displaced, and the power of ten that brings it back is found', () => {
    // A column around zero looks much the same a little smaller.
    for (const factor of name === 'base excess' ? [100, 1000] : [10, 100, 1000, 0.1, 0.01, 0.001]) {
      const list = normal(60).map((z) => factor * of(z));
      expect(displacedColumn(predictor, list), `× ${factor}`).toBeDefined();
      const back = factorBack(predictor, list);
      if (name !== 'base excess') expect(back! * factor).toBeCloseTo(1, 9);
    }
  });

  it('is displaced or not whatever the unit of both', () => {
    const list = normal(40).map((z) => of(z + 2.2));
    const isDisplaced = displacedColumn(predictor, list) !== undefined;
    for (const unit of [1000, 0.01]) {
      const scaled = describeColumn(
        name,
        Float64Array.from({ length: 3 }, () => 1),
      );
      const other = {
        ...scaled,
        range: predictor.range!.map((one) => unit * one) as [number, number],
        quartiles: predictor.quartiles!.map((one) => unit * one) as [number, number, number],
        sd: unit * predictor.sd!,
      };
      const now = displacedColumn(
        other,
        list.map((value) => unit * value),
      );
      expect(now !== undefined).toBe(isDisplaced);
    }
  });
});

describe('patients who are older by nine years', () => {
  it('are other patients, not another unit, as long as their ages were seen in development', () => {
    const age = describeColumn(
      'age',
      normal(300).map((z) => 22 + 5 * z),
    );
    const [least, most] = age.range!;
    const older = normal(150).map((z) => Math.min(most, Math.max(least, 31 + 3 * z)));
    expect(displacedColumn(age, older)).toBeUndefined();
  });
});

describe('a displaced column', () => {
  const predictor = describeColumn(
    'age',
    normal(300).map((z) => 60 + 12 * z),
  );

  it('is not claimed of a handful of values, nor of missing ones', () => {
    expect(displacedColumn(predictor, Float64Array.of(6000, 7000, NaN, NaN))).toBeUndefined();
    expect(displacedColumn(predictor, new Float64Array(50).fill(NaN))).toBeUndefined();
  });

  it('has no power of ten where it was moved by a constant', () => {
    const moved = normal(80).map((z) => 540 + 12 * z);
    expect(displacedColumn(predictor, moved)).toBeDefined();
    expect(factorBack(predictor, moved)).toBeUndefined();
  });
});
