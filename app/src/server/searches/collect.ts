import {
  emptyLike,
  numbersOf,
  unpackPredictions,
  widthOf,
  type OutcomeHeader,
  type Predictions,
} from '@rook-scale/core/outcome';
import { planParts } from '@rook-scale/core/tuning';

/** A fit of a search as it is kept: predictions of each of its settings behind one another. */
export interface KeptPiece {
  part: string;
  trials: number[];
  header: OutcomeHeader;
  values: Uint8Array;
}

/**
 * Out-of-fold predictions of each of the settings, put together from those of its parts; undefined for one of
 * which a part is missing.
 *
 * @param places of the predictions of each part among all
 * @param length predictions in all
 */
export function collectTrials(
  pieces: KeptPiece[],
  places: Record<string, Int32Array>,
  length: number,
): Map<number, Predictions | undefined> {
  const parts = Object.keys(places).length;
  const found = new Map<number, { predictions: Predictions; parts: number }>();
  for (const { part, trials, header, values } of pieces) {
    const size = values.byteLength / trials.length;
    trials.forEach((trial, i) => {
      const bytes = values.subarray(i * size, (i + 1) * size);
      const own = unpackPredictions({ header, bytes });
      let whole = found.get(trial);
      if (!whole) {
        whole = { predictions: emptyLike(own, length), parts: 0 };
        found.set(trial, whole);
      }
      whole.parts++;
      const [from, to, width] = [numbersOf(own), numbersOf(whole.predictions), widthOf(own)];
      places[part].forEach((place, k) => {
        for (let w = 0; w < width; w++) to[place * width + w] = from[k * width + w];
      });
    });
  }
  return new Map(
    [...found].map(([trial, whole]) => [
      trial,
      whole.parts === parts ? whole.predictions : undefined,
    ]),
  );
}

/** Places of the predictions of each part, among those of all times. */
export function placesOf(folds: Uint8Array): Record<string, Int32Array> {
  const places = Int32Array.from(folds, (_, place) => place);
  // One time of them all: each fold is told by its own number.
  return Object.fromEntries(
    planParts(places, folds, new Int32Array(0))
      .filter(({ name }) => name !== 'all')
      .map(({ name, predictRows }) => [name, predictRows]),
  );
}
