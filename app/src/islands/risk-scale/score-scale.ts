import type { Model } from '@rook-scale/core/model';
import { readScore } from '@rook-scale/core/outcome';
import { showCutoff } from '../../browser/format.ts';
import { roundDigits, showExact, showFixed } from '../../browser/numbers.ts';

/** How scores lie on the ruler. Whoever has the cutoff or more, to its right, is called in. */
export interface ScoreScale {
  /** What lies on it. */
  what: 'risk' | 'number';
  from: number;
  to: number;
  /** What a key moves the marker by; with Shift a tenth of it. */
  step: number;
  /** Long, middle and short ticks; words stand at the long ones. */
  ticks: { at: number; length: 'long' | 'middle' | 'short'; word?: string }[];
  /** A score as it is read: numbers are turned round where low ones are cases. */
  read: (score: number) => number;
  /** A score in words. */
  show: (score: number) => string;
}

/** Risks and shares from 0 to 1. */
const shares: ScoreScale = {
  what: 'risk',
  from: 0,
  to: 1,
  step: 0.01,
  ticks: Array.from({ length: 101 }, (_, i) => ({
    at: i / 100,
    length:
      i % 10 === 0 ? ('long' as const) : i % 5 === 0 ? ('middle' as const) : ('short' as const),
    ...(i % 10 === 0 && { word: showFixed(i / 100, 1) }),
  })),
  read: (score) => score,
  show: (score) => showCutoff(score),
};

/** The scale for what is predicted: 0 to 1, or the range of the predicted numbers in their unit. */
export function scaleFor(outcome: Model['outcome'] | undefined, scores: Float64Array): ScoreScale {
  return outcome?.choice.kind === 'number' ? numberScale(outcome, scores) : shares;
}

function numberScale(outcome: Model['outcome'], scores: Float64Array): ScoreScale {
  let [least, greatest] = [Infinity, -Infinity];
  for (const score of scores) {
    if (score < least) least = score;
    if (score > greatest) greatest = score;
  }
  // The value that makes a case is on the scale, whatever is predicted.
  if (outcome.cases.kind === 'number') {
    const limit = readScore(outcome.cases.value, outcome.cases);
    [least, greatest] = [Math.min(least, limit), Math.max(greatest, limit)];
  }
  if (!(greatest > least))
    [least, greatest] = [
      (Number.isFinite(least) ? least : 0) - 1,
      (Number.isFinite(least) ? least : 0) + 1,
    ];
  const wide = evenStep((greatest - least) / 8);
  const first = Math.floor(least / wide);
  const last = Math.ceil(greatest / wide);
  return {
    what: 'number',
    from: first * wide,
    to: last * wide,
    step: wide / 10,
    ticks: Array.from({ length: 10 * (last - first) + 1 }, (_, i) => {
      const at = tidy(first * wide + (i * wide) / 10);
      const length = i % 10 === 0 ? 'long' : i % 5 === 0 ? 'middle' : 'short';
      return {
        at,
        length,
        ...(length === 'long' && { word: showExact(tidy(readScore(at, outcome.cases))) }),
      };
    }),
    read: (score) => readScore(score, outcome.cases),
    show: (score) => showCutoff(score, outcome),
  };
}

/** 1, 2 or 5 times a power of ten. */
function evenStep(about: number): number {
  const power = 10 ** Math.floor(Math.log10(about));
  const share = about / power;
  return (share < 1.5 ? 1 : share < 3.5 ? 2 : share < 7.5 ? 5 : 10) * power;
}

const tidy = (value: number) => roundDigits(value, 10) + 0;
