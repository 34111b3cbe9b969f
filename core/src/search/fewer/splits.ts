import { randomStream } from '../../numeric/index.ts';
import type { Outcome } from '../../outcome/index.ts';
import type { FitPart } from '../../tuning/index.ts';
import { innerFolds } from './plan.ts';

/** Who is learned from where predictors are ranked, and who is told. */
export type Split = Pick<FitPart, 'learnRows' | 'predictRows'>;

/** Those who are learned from in a part, in inner folds: whoever it predicts has no say in the ranking. */
export function innerSplits(rows: Int32Array, outcome: Outcome, seed: number): Split[] {
  const folds = dealt(rows, outcome, innerFolds, seed, 'inner folds of a selection');
  return Array.from({ length: innerFolds }, (_, fold) => ({
    learnRows: rows.filter((_row, i) => folds[i] !== fold),
    predictRows: rows.filter((_row, i) => folds[i] === fold),
  }));
}

/**
 * Half samples in pairs that share nobody: each learns on its own half and is ranked on the other (Shah & Samworth
 * 2013, JRSS B 75:55-80).
 */
export function halfSamples(
  rows: Int32Array,
  outcome: Outcome,
  count: number,
  seed: number,
): FitPart[] {
  return Array.from({ length: count }, (_, k) => {
    const halves = dealt(rows, outcome, 2, seed, `halves ${k >> 1}`);
    return {
      name: `half ${k + 1}`,
      learnRows: rows.filter((_row, i) => halves[i] === k % 2),
      predictRows: rows.filter((_row, i) => halves[i] !== k % 2),
    };
  });
}

export const isHalf = ({ name }: Pick<FitPart, 'name'>): boolean => name.startsWith('half ');

/** A place among so many for each row, each with its share of every level. */
function dealt(
  rows: Int32Array,
  outcome: Outcome,
  among: number,
  seed: number,
  what: string,
): Uint8Array {
  const draw = randomStream(seed, what);
  const keys = Float64Array.from(rows, () => draw.uniform());
  const stratum = (i: number) => (outcome.kind === 'number' ? 0 : outcome.values[rows[i]]);
  const order = Int32Array.from(rows.keys()).sort(
    (a, b) => stratum(a) - stratum(b) || keys[a] - keys[b],
  );
  const places = new Uint8Array(rows.length);
  order.forEach((at, i) => (places[at] = i % among));
  return places;
}
