import { sortedQuantile } from '../numeric/index.ts';
import type { PredictorColumn } from '../preparation/index.ts';
import { isKnown, valuesOf, withValues, type Ask, type Value } from './ask.ts';

/** Changes that, made together, turn the call of a patient. */
export interface Turn {
  changes: { name: string; to: Value }[];
  /** What would be said then. */
  said: number;
  /** Sum over the changes: of a number the share of patients who lie between, of ordered levels that of steps, else 1. */
  distance: number;
}

/** Values of a number that are tried alone, and of each of those that are changed together; how many of these. */
const tried = { alone: 40, together: 8, columns: 8 };

interface Option {
  column: number;
  to: Value;
  distance: number;
}

/**
 * The smallest changes that turn a patient's call, each to a value that other patients have: of one predictor, else of
 * two, else of three (searched greedily from the pairs that come nearest). Of each set of predictors the nearest one.
 *
 * @param patient one row
 * @param others whose values are tried
 * @param isCalled whether what is said calls a patient in
 * @param changeable predictors that may change; what is not known of the patient never does
 */
export function smallestChanges(
  ask: Ask,
  patient: PredictorColumn[],
  others: PredictorColumn[],
  isCalled: (said: number) => boolean,
  changeable: string[],
  atMost = 5,
): Turn[] {
  const [own] = ask(patient, 1);
  const wasCalled = isCalled(own);
  const sayAll = (sets: Option[][]) => ask(changed(patient, sets), sets.length);
  const turnsAmong = (sets: Option[][], said: ArrayLike<number>) => {
    const best = new Map<string, Turn>();
    sets.forEach((set, i) => {
      if (isCalled(said[i]) === wasCalled) return;
      const distance = set.reduce((sum, one) => sum + one.distance, 0);
      const key = set.map(({ column }) => column).join(' ');
      const before = best.get(key);
      if (before && before.distance <= distance) return;
      const changes = set.map(({ column, to }) => ({ name: patient[column].name, to }));
      best.set(key, { changes, said: said[i], distance });
    });
    return [...best.values()].sort((a, b) => a.distance - b.distance);
  };
  const columns = patient.flatMap((column, j) =>
    changeable.includes(column.name) && isKnown(column, valuesOf(column)[0]) ? [j] : [],
  );
  const options = columns.map((j) => optionsOf(j, patient[j], others[j], tried.alone));
  const alone = options.flat().map((option) => [option]);
  if (alone.length === 0) return [];
  const saidAlone = sayAll(alone);
  const found = turnsAmong(alone, saidAlone);
  if (found.length > 0) return found.slice(0, atMost);
  // Those that move it farthest towards the other call, each with fewer values.
  const towards = wasCalled === isCalled(Infinity) ? -1 : 1;
  const reach = new Map<number, number>();
  alone.forEach(([{ column }], i) => {
    const moved = towards * (saidAlone[i] - own);
    reach.set(column, Math.max(reach.get(column) ?? -Infinity, moved));
  });
  const leading = [...reach]
    .sort((a, b) => b[1] - a[1])
    .slice(0, tried.columns)
    .map(([column]) => optionsOf(column, patient[column], others[column], tried.together));
  const pairs = leading.flatMap((one, i) =>
    leading.slice(i + 1).flatMap((other) => one.flatMap((a) => other.map((b) => [a, b]))),
  );
  if (pairs.length === 0) return [];
  const saidOfPairs = sayAll(pairs);
  const two = turnsAmong(pairs, saidOfPairs);
  if (two.length > 0) return two.slice(0, atMost);
  const nearest = [...pairs.keys()]
    .sort((a, b) => towards * (saidOfPairs[b] - saidOfPairs[a]))
    .slice(0, 20);
  const triples = nearest.flatMap((i) =>
    leading.flatMap((third) =>
      third.some(({ column }) => pairs[i].some((one) => one.column === column))
        ? []
        : third.map((option) => [...pairs[i], option].sort((a, b) => a.column - b.column)),
    ),
  );
  if (triples.length === 0) return [];
  return turnsAmong(triples, sayAll(triples)).slice(0, atMost);
}

/** The patient, once for each set of changes. */
function changed(patient: PredictorColumn[], sets: Option[][]): PredictorColumn[] {
  return patient.map((column, j) => {
    const own = valuesOf(column)[0];
    return withValues(
      column,
      sets.map((set) => set.find((one) => one.column === j)?.to ?? own),
    );
  });
}

function optionsOf(
  j: number,
  patient: PredictorColumn,
  others: PredictorColumn,
  most: number,
): Option[] {
  const own = valuesOf(patient)[0];
  if (others.type === 'coded') {
    const seen = new Set(others.codes);
    const steps = Math.max(1, others.levels.length - 1);
    return others.levels.flatMap((_, code) =>
      code === own || !seen.has(code)
        ? []
        : [{ column: j, to: code, distance: others.ordered ? Math.abs(code - own) / steps : 1 }],
    );
  }
  const sorted = others.values.filter((value) => !Number.isNaN(value)).sort();
  if (sorted.length === 0) return [];
  const different = [...new Set(sorted)];
  const values =
    different.length <= most
      ? different
      : [
          ...new Set(
            // A value that somebody has, not one in between.
            Array.from({ length: most }, (_, k) => nearestIn(sorted, (k + 0.5) / most)),
          ),
        ];
  const place = (value: number) => below(sorted, value) / sorted.length;
  return values
    .filter((value) => value !== own)
    .map((to) => ({ column: j, to, distance: Math.abs(place(to) - place(own)) }));
}

function nearestIn(sorted: Float64Array, share: number): number {
  const wanted = sortedQuantile(sorted, share);
  return sorted[Math.min(sorted.length - 1, below(sorted, wanted))];
}

/** How many are less. */
function below(sorted: Float64Array, value: number): number {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle] < value) low = middle + 1;
    else high = middle;
  }
  return low;
}
