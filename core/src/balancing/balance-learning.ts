import { randomStream } from '../numeric/index.ts';
import type { Outcome } from '../outcome/index.ts';
import { takeInputs, type Inputs } from '../preparation/index.ts';
import { casesInBetween } from './cases-in-between.ts';
import type { Balancing } from './choice.ts';
import type { Correction } from './correction.ts';

/** What is learned from, after it was balanced. */
export interface BalancedLearning {
  inputs: Inputs;
  outcome: Outcome;
  /** One a patient; absent where each counts once. */
  weights?: Float64Array;
  /** Absent where nothing was balanced. */
  correction?: Correction;
}

/**
 * Balances learning patients: after the preparation, which learns from all of them, and before the
 * family. Never called with patients who are only predicted.
 *
 * @param inputs without gaps
 */
export function balanceLearning(
  inputs: Inputs,
  outcome: Outcome,
  balancing: Balancing,
  seed: number,
): BalancedLearning {
  if (balancing.way === 'none' || outcome.kind !== 'event') return { inputs, outcome };
  const { values } = outcome;
  const [cases, others]: [number[], number[]] = [[], []];
  values.forEach((value, i) => (value === 1 ? cases : others).push(i));
  const share = cases.length / values.length;
  if (cases.length === 0 || others.length === 0) return { inputs, outcome };
  const wanted = balancing.share;
  if (balancing.way === 'weights')
    return {
      inputs,
      outcome,
      weights: Float64Array.from(values, (value) =>
        value === 1 ? wanted / share : (1 - wanted) / (1 - share),
      ),
      correction: { share, learned: wanted },
    };
  const draw = randomStream(seed, `balance ${balancing.way}`);
  // Only ever in the direction that was asked for: cases that are common enough stay as they are.
  if (share >= wanted) return { inputs, outcome };
  if (balancing.way === 'fewer others') {
    const keep = Math.max(1, Math.round((cases.length * (1 - wanted)) / wanted));
    const shuffled = others
      .map((row) => ({ row, at: draw.uniform() }))
      .sort((a, b) => a.at - b.at)
      .slice(0, keep)
      .map(({ row }) => row);
    const rows = [...cases, ...shuffled].sort((a, b) => a - b);
    return withShare(
      takeInputs(inputs, rows),
      rows.map((row) => values[row]),
      share,
    );
  }
  const more = Math.round((others.length * wanted) / (1 - wanted)) - cases.length;
  const all = Array.from(values.keys());
  if (balancing.way === 'copies of cases') {
    const copies = Array.from(
      { length: more },
      () => cases[Math.floor(cases.length * draw.uniform())],
    );
    const rows = [...all, ...copies];
    return withShare(
      takeInputs(inputs, rows),
      rows.map((row) => values[row]),
      share,
    );
  }
  const made = casesInBetween(inputs, cases, more, balancing.neighbours, draw);
  const columns = inputs.columns.map((column, j) => {
    const longer = new Float64Array(column.length + more);
    longer.set(column);
    longer.set(made[j], column.length);
    return longer;
  });
  const events = [...values, ...new Array<number>(more).fill(1)];
  return withShare({ ...inputs, rowCount: events.length, columns }, events, share);
}

function withShare(inputs: Inputs, events: number[], share: number): BalancedLearning {
  const cases = events.reduce((sum, event) => sum + event, 0);
  return {
    inputs,
    outcome: { kind: 'event', values: Int8Array.from(events) },
    correction: { share, learned: cases / events.length },
  };
}
