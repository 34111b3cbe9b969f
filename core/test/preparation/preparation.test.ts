import { eventOutcome } from '../families/fit-event.ts';
import { describe, expect, it } from 'vitest';
import {
  applyPreparation,
  effectsLike,
  fitPreparation,
  type PredictorColumn,
} from '../../src/preparation/index.ts';

/** Each of the first patients so many times over, so that every input has enough behind it. */
const times = 6;
const age: PredictorColumn = {
  name: 'age',
  type: 'number',
  values: Float64Array.of(...repeat([40, NaN, 60, 80]), 999),
};
const sex: PredictorColumn = {
  name: 'sex',
  type: 'coded',
  codes: Int32Array.of(...repeat([1, 1, 0, -1]), 2),
  levels: ['female', 'male', 'other'],
};
const rows = Array.from({ length: 4 * times }, (_, row) => row);
/** In every second round everybody has the event. */
const events = rows.map((row) => Math.floor(row / 4) % 2);
const fit = (columns: PredictorColumn[]) =>
  fitPreparation(columns, rows, eventOutcome(events)).preparation;

function repeat<T>(values: T[]): T[] {
  return Array.from({ length: times }, () => values).flat();
}

describe('the fixed preparation', () => {
  const { preparation: fitted, inputs: made } = fitPreparation(
    [age, sex],
    rows,
    eventOutcome(events),
  );
  const inputs = applyPreparation(fitted, [age, sex], rows);
  const column = (name: string) =>
    Array.from(inputs.columns[inputs.names.indexOf(name)]).slice(0, 4);

  it('gives the inputs of the patients it learned from', () => {
    expect(made).toEqual(inputs);
  });

  it('fills gaps with the median and the most common level, and marks them', () => {
    expect(effectsLike(fitted, 'filled')).toEqual([
      { what: 'filled', column: 'age', number: 60, gaps: times },
      { what: 'filled', column: 'sex', level: 'male', gaps: times },
    ]);
    expect(column('age not known')).toEqual([0, 1, 0, 0]);
    expect(column('sex not known')).toEqual([0, 0, 0, 1]);
  });

  it('makes indicators beside the first level, of levels these patients have', () => {
    expect(effectsLike(fitted, 'indicators')).toEqual([
      { what: 'indicators', column: 'sex', reference: 'female', levels: ['male'] },
    ]);
    expect(column('sex = male')).toEqual([1, 1, 0, 1]);
  });

  it('standardises numbers with divisor n after filling', () => {
    const sd = Math.sqrt((20 ** 2 + 20 ** 2) / 4);
    expect(effectsLike(fitted, 'standardised')).toEqual([
      { what: 'standardised', column: 'age', mean: 60, sd },
    ]);
    expect(column('age')).toEqual([-20 / sd, 0, 0, 20 / sd]);
  });

  it('says what each input means', () => {
    expect(fitted.inputs.map(({ name, kind }) => [name, kind])).toEqual([
      ['age', 'number'],
      ['age not known', 'gap'],
      ['sex = male', 'level'],
      ['sex not known', 'gap'],
    ]);
  });

  it('learns nothing from rows it was not fitted on', () => {
    const other = { ...age, values: Float64Array.of(...repeat([40, NaN, 60, 80]), -5) };
    expect(fit([other, sex])).toEqual(fitted);
  });

  it('is plain JSON that prepares a later cohort to the same bit', () => {
    const again = JSON.parse(JSON.stringify(fitted)) as typeof fitted;
    expect(applyPreparation(again, [age, sex], [24, 0])).toEqual(
      applyPreparation(fitted, [age, sex], [24, 0]),
    );
  });

  it('leaves out what does not vary and what is never known', () => {
    const constant: PredictorColumn = {
      name: 'form',
      type: 'number',
      values: new Float64Array(24).fill(0.1),
    };
    const empty: PredictorColumn = {
      name: 'hba1c',
      type: 'number',
      values: new Float64Array(24).fill(NaN),
    };
    const single: PredictorColumn = {
      name: 'site',
      type: 'coded',
      codes: new Int32Array(24),
      levels: ['A', 'B'],
    };
    expect(fit([constant, empty, single]).inputs).toEqual([]);
  });
});
