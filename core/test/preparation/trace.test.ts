import { describe, expect, it } from 'vitest';
import {
  arrangedStepSchema,
  traceStep,
  withUsual,
  type PredictorColumn,
} from '../../src/preparation/index.ts';
import { eventOutcome } from '../families/fit-event.ts';

const rows = Array.from({ length: 60 }, (_, row) => row);
const outcome = eventOutcome(rows.map((row) => Number(Math.floor(row / 6) % 3 === 0)));

/** Every sixth stay is not known; the others are 1, 2, 4, 8 or 16 days. */
const stay: PredictorColumn = {
  name: 'stay',
  type: 'number',
  values: Float64Array.from(rows, (row) => (row % 6 === 5 ? NaN : 2 ** (row % 6))),
};
/** Twenty in each ward, in turn; nobody in D. */
const ward: PredictorColumn = {
  name: 'ward',
  type: 'coded',
  levels: ['A', 'B', 'C', 'D'],
  codes: Int32Array.from(rows, (row) => row % 3),
};

function trace(steps: object[], asked: { place: number; column: string; patient?: number }) {
  const all = withUsual(steps.map((step) => arrangedStepSchema.parse(step)));
  return traceStep([stay, ward], rows, outcome, all, { patient: 0, ...asked });
}

describe('a step as it is shown on one column and one patient', () => {
  it('has the column before and after, its gaps, and its mean and SD by hand', () => {
    const { before, after } = trace([{ step: 'reshape', columns: ['stay'], how: 'log' }], {
      place: 0,
      column: 'stay',
    });
    const logs = [0, 1, 2, 3, 4].map((power) => power * Math.LN2);
    expect(before).toMatchObject({ name: 'stay', patients: 60, gaps: 10, from: 1, to: 16 });
    // (1 + 2 + 4 + 8 + 16) / 5, and the root of the mean of their squares about it.
    expect(before).toMatchObject({ mean: 6.2 });
    expect(after).toHaveLength(1);
    expect(after[0]).toMatchObject({ kind: 'number', gaps: 10, from: 0, to: 4 * Math.LN2 });
    if (after[0].kind !== 'number' || before?.kind !== 'number') return;
    expect(before.sd).toBeCloseTo(Math.sqrt((1 + 4 + 16 + 64 + 256) / 5 - 6.2 ** 2), 12);
    expect(after[0].mean).toBeCloseTo(2 * Math.LN2, 12);
    expect(after[0].sd).toBeCloseTo(
      Math.sqrt(logs.reduce((sum, log) => sum + (log - 2 * Math.LN2) ** 2, 0) / 5),
      12,
    );
    // Ten patients at each of five values, which are evenly spaced as logarithms.
    expect(after[0].bins).toHaveLength(30);
    expect(after[0].bins.filter((bin) => bin > 0)).toEqual([10, 10, 10, 10, 10]);
    expect(before.bins.filter((bin) => bin > 0)).toEqual([10, 10, 10, 10, 10]);
  });

  it('shows what the patient had and has; a gap as not known', () => {
    const step = { step: 'reshape', columns: ['stay'], how: 'log' };
    expect(trace([step], { place: 0, column: 'stay', patient: 3 }).patient).toEqual([
      { name: 'stay', before: '8', after: '2.0794' },
    ]);
    expect(trace([step], { place: 0, column: 'stay', patient: 5 }).patient).toEqual([]);
    const fill = { step: 'fill', columns: ['stay'], how: 'constant', value: '3' };
    expect(trace([fill], { place: 0, column: 'stay', patient: 5 }).patient).toEqual([
      { name: 'stay', before: 'not known', after: '3' },
      { name: 'stay not known', before: null, after: '1' },
    ]);
  });

  it('has the levels that anybody has, and the indicators that stand for them', () => {
    const { before, after, patient } = trace([], { place: 3, column: 'ward', patient: 4 });
    expect(before).toMatchObject({
      kind: 'levels',
      levels: ['A', 'B', 'C'].map((level) => ({ level, patients: 20 })),
    });
    expect(after.map(({ name }) => name)).toEqual(['ward = B', 'ward = C']);
    expect(after[0]).toMatchObject({ kind: 'number', from: 0, to: 1, mean: 1 / 3 });
    expect(patient).toEqual([
      { name: 'ward', before: 'B', after: null },
      { name: 'ward = B', before: null, after: '1' },
      { name: 'ward = C', before: null, after: '0' },
    ]);
  });

  it('has nothing in its place where the column is left out, and nothing of one that is not there', () => {
    const gone = trace(
      [{ step: 'leave out columns', columns: ['stay'], why: 'gaps', share: 0.1 }],
      {
        place: 0,
        column: 'stay',
      },
    );
    expect(gone.after).toEqual([]);
    expect(gone.before).toMatchObject({ gaps: 10 });
    const nowhere = trace([], { place: 0, column: 'nowhere' });
    expect(nowhere.before).toBeUndefined();
    expect(nowhere.after).toEqual([]);
  });

  it('shows what is made of a column beside it', () => {
    const { after } = trace(
      [
        { step: 'fill', columns: ['stay'], how: 'constant', value: '1', mark: false },
        { step: 'splines', columns: ['stay'], knots: 3 },
      ],
      { place: 1, column: 'stay' },
    );
    expect(after.map(({ name }) => name)).toEqual(['stay', 'stay, bend 1']);
  });
});
