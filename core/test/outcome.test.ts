import { describe, expect, it } from 'vitest';
import {
  caseScores,
  casesOf,
  isKnown,
  packOutcome,
  packPredictions,
  readOutcome,
  readScore,
  takeOutcome,
  takePredictions,
  unpackOutcome,
  unpackPredictions,
  type Outcome,
  type Predictions,
} from '../src/outcome/index.ts';
import { tableFromText } from '../src/table/index.ts';

const outcomes: Outcome[] = [
  { kind: 'event', values: Int8Array.of(1, 0, -1, 1) },
  { kind: 'levels', values: Int32Array.of(2, 0, -1, 1), levels: ['a', 'b', 'c'], ordered: true },
  { kind: 'number', values: Float64Array.of(3.5, -1, NaN, 1e12) },
];
const predictions: Predictions[] = [
  { kind: 'event', risks: Float64Array.of(0.1, 0.5, 0.25, 1) },
  {
    kind: 'levels',
    levels: ['a', 'b', 'c'],
    shares: Float64Array.of(0.5, 0.25, 0.25, 1, 0, 0, 0, 0.5, 0.5, 0.125, 0.125, 0.75),
  },
  { kind: 'number', values: Float64Array.of(3, -2, 0.1, 7) },
];

/** As they come from a database: in the midst of a larger piece of memory. */
function moved(bytes: Uint8Array): Uint8Array {
  const room = new Uint8Array(bytes.length + 3);
  room.set(bytes, 3);
  return room.subarray(3);
}

describe.each(outcomes.map((outcome, i) => [outcome.kind, outcome, predictions[i]] as const))(
  '%s',
  (_kind, outcome, predicted) => {
    it('is packed and unpacked to the same, wherever its bytes begin', () => {
      const happened = packOutcome(outcome);
      expect(unpackOutcome({ ...happened, bytes: moved(happened.bytes) })).toEqual(outcome);
      const said = packPredictions(predicted);
      expect(unpackPredictions({ ...said, bytes: moved(said.bytes) })).toEqual(predicted);
    });

    it('cut short is not read as if it were whole', () => {
      const { header, bytes } = packPredictions(predicted);
      expect(() => unpackPredictions({ header, bytes: bytes.subarray(0, 5) })).toThrow(/cut short/);
    });

    it('keeps the patients asked for, in their order', () => {
      const twice = takeOutcome(outcome, [3, 0, 3]);
      expect([...twice.values]).toEqual([outcome.values[3], outcome.values[0], outcome.values[3]]);
      expect(takePredictions(takePredictions(predicted, [3, 2, 1, 0]), [3, 2, 1, 0])).toEqual(
        predicted,
      );
      expect([0, 1, 2, 3].map((row) => isKnown(outcome, row))).toEqual([true, true, false, true]);
    });
  },
);

describe('what a case is', () => {
  it('is counted from outcomes and read from predictions by the same rule', () => {
    const [, levels, number] = outcomes;
    const [, shares, values] = predictions;
    const some = { kind: 'levels' as const, levels: ['b', 'c'] };
    expect([...casesOf(levels, some)]).toEqual([1, 0, -1, 1]);
    expect([...caseScores(shares, some)]).toEqual([0.5, 0, 1, 0.875]);
    const high = { kind: 'number' as const, value: 3.5, side: 'from' as const };
    expect([...casesOf(number, high)]).toEqual([1, 0, -1, 1]);
    expect([...caseScores(values, high)]).toEqual([3, -2, 0.1, 7]);
  });

  it('up to a value is turned round, and read back', () => {
    const low = { kind: 'number' as const, value: -1, side: 'up to' as const };
    expect([...casesOf(outcomes[2], low)]).toEqual([0, 1, -1, 0]);
    const scores = caseScores(predictions[2], low);
    expect([...scores]).toEqual([-3, 2, -0.1, -7]);
    expect(Array.from(scores, (score) => readScore(score, low))).toEqual([3, -2, 0.1, 7]);
  });

  it('of another kind is refused', () => {
    expect(() => casesOf(outcomes[0], { kind: 'levels', levels: ['a'] })).toThrow(/another kind/);
    expect(() => caseScores(predictions[2], { kind: 'event' })).toThrow(/another kind/);
  });
});

describe('an outcome column', () => {
  const table = tableFromText(
    ['grade', 'lab', 'note'],
    Array.from({ length: 30 }, (_, i) => [
      'low high'.split(' ')[i % 2],
      String(2 * i),
      `seen ${i}`,
    ]),
  );

  it('is read as what it is predicted as', () => {
    const event = readOutcome(table, { kind: 'event', column: 'grade', event: 'high' });
    expect([...event.values].slice(0, 4)).toEqual([0, 1, 0, 1]);
    const number = readOutcome(table, { kind: 'number', column: 'lab' });
    expect(number.values[29]).toBe(58);
  });

  it.each([
    [{ kind: 'event', column: 'grade', event: 'none' }, /no level "none" in this cohort/],
    [{ kind: 'event', column: 'lab', event: '3' }, /has no levels\. Make it yes\/no or a category/],
    [{ kind: 'number', column: 'grade' }, /is no number/],
    [{ kind: 'number', column: 'absent' }, /not in this cohort/],
    [
      { kind: 'levels', column: 'grade', reference: 'middle', ordered: false },
      /no level "middle" in this cohort/,
    ],
  ] as const)('that cannot be says why: %o', (choice, sentence) => {
    expect(() => readOutcome(table, choice)).toThrow(sentence);
  });
});
