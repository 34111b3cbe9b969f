// What threads do for a nested search: nothing is read or written here.
import {
  emptyLike,
  numbersOf,
  unpackPredictions,
  widthOf,
  type Predictions,
} from '@rook-scale/core/outcome';
import { nestedChoice, searchMeasures } from '@rook-scale/core/search';
import type { NestedShown } from '../../contract/searches.ts';
import { collectTrials, type KeptPiece } from './collect.ts';
import { pairsOfFolds } from './pairs.ts';
import type { KeptTask } from './work.ts';

export interface NestTask extends KeptTask {
  /** What was fitted without two folds each. */
  pairs: KeptPiece[];
  measure: string;
}

/** The choice made anew inside every fold, of those settings that were fitted everywhere. */
export function nestChoice(task: NestTask): NestedShown | null {
  const { outcome, pieces, pairs, places, folds, by, measure } = task;
  const collected = collectTrials(pieces, places, folds.length);
  const count = Object.keys(places).length;
  const inner = innerOf(pairs, folds, count);
  const whole = [...collected].flatMap(([trial, predictions]) =>
    predictions && inner.every((told) => told.get(trial)?.folds === count - 1)
      ? [{ trial, predictions }]
      : [],
  );
  if (whole.length < 2) return null;
  const asked = searchMeasures[outcome.kind].find(({ id }) => id === measure)!;
  const found = nestedChoice(
    {
      outcome,
      folds,
      by,
      outer: whole.map(({ predictions }) => predictions),
      inner: inner.map((told) => whole.map(({ trial }) => told.get(trial)!.predictions)),
    },
    asked,
  );
  return found
    ? { ...found, chosen: found.chosen.map((place) => whole[place].trial), among: whole.length }
    : null;
}

/** What was told of all who are not in a fold, and of how many folds. */
interface InnerTold {
  predictions: Predictions;
  folds: number;
}

/** By fold that is left out, of each of the settings: each pair of folds tells of both. */
function innerOf(pairs: KeptPiece[], folds: Uint8Array, count: number): Map<number, InnerTold>[] {
  const inner = Array.from({ length: count }, () => new Map<number, InnerTold>());
  const pairOf = new Map(pairsOfFolds(count).map(({ name, folds: pair }) => [name, pair]));
  for (const { part, trials, header, values } of pairs) {
    const pair = pairOf.get(part)!;
    const members = Int32Array.from(folds.keys()).filter((i) => pair.includes(folds[i]));
    const size = values.byteLength / trials.length;
    trials.forEach((trial, i) => {
      const told = unpackPredictions({ header, bytes: values.subarray(i * size, (i + 1) * size) });
      for (const [out, of] of [pair, pair.toReversed()]) {
        const before = inner[out].get(trial);
        const predictions = before?.predictions ?? emptyLike(told, folds.length);
        const [from, to, width] = [numbersOf(told), numbersOf(predictions), widthOf(told)];
        members.forEach((place, k) => {
          if (folds[place] !== of) return;
          for (let w = 0; w < width; w++) to[place * width + w] = from[k * width + w];
        });
        inner[out].set(trial, { predictions, folds: (before?.folds ?? 0) + 1 });
      }
    });
  }
  return inner;
}
