import { compiledAlteredWalk, mostCodes } from '../numeric/index.ts';
import type { Inputs } from '../inputs/index.ts';
import { addLeaves, type Ensemble } from './ensemble.ts';

/**
 * Sums of leaves of patients as if some of their inputs were others: only where a changed input leads a patient
 * another way is the rest of that way gone, once for all alternatives that take it. Without such a kernel each
 * alternative is gone through by itself.
 *
 * @param alternatives the same patients, each alternative with other values of some inputs
 * @param start what sums begin with, patients × groups × width
 * @param codes for thresholds of an input, at most: as many trees are gone through at once
 * @returns sums as `addLeaves` makes them, of each alternative; the same but for rounding
 */
export function alteredSums(
  ensemble: Ensemble,
  inputs: Inputs,
  alternatives: Inputs[],
  start: (rowCount: number) => Float64Array,
  { groups = 1, width = 1, codes = mostCodes } = {},
): Float64Array[] {
  const size = groups * width;
  const altered = alternatives.map(({ columns }) =>
    columns.flatMap((column, j) => (isSame(column, inputs.columns[j]) ? [] : [j])),
  );
  const plain = start(inputs.rowCount);
  const found = alternatives.map(() => new Float64Array(plain.length));
  for (const [first, end] of runsOfTrees(ensemble, codes)) {
    const walk = compiledAlteredWalk(
      ...([ensemble, [ensemble.starts[first], ensemble.starts[end]]] as const),
      ...([inputs.columns.length, altered, width, size] as const),
    );
    if (!walk)
      return alternatives.map((one) => {
        const sums = start(one.rowCount);
        addLeaves(ensemble, one, sums, { groups, width });
        return sums;
      });
    for (let from = 0; from < inputs.rowCount; from += walk.rows) {
      const rows = Math.min(walk.rows, inputs.rowCount - from);
      const part = (column: Float64Array) => column.subarray(from, from + rows);
      inputs.columns.forEach((column, j) => walk.putOwn(j, part(column)));
      altered.forEach((own, a) =>
        own.forEach((j) => walk.putAltered(a, j, part(alternatives[a].columns[j]))),
      );
      const own = plain.subarray(from * size, (from + rows) * size);
      walk.sums.set(own);
      walk.more.fill(0);
      for (let tree = first; tree < end; tree++)
        walk.add(ensemble.starts[tree], rows, (tree % groups) * width);
      own.set(walk.sums.subarray(0, rows * size));
      found.forEach((more, a) => {
        const { first: place, step } = walk.placeOf(a);
        for (let i = 0; i < rows; i++)
          for (let k = 0; k < size; k++)
            more[(from + i) * size + k] += walk.more[place + i * step + k];
      });
    }
  }
  return found.map((more) => more.map((value, i) => plain[i] + value));
}

/** The first tree of each run, and the one behind its last: as many as there are codes for their thresholds. */
function runsOfTrees({ starts, input }: Ensemble, codes: number): [number, number][] {
  const runs: [number, number][] = [];
  let counts = new Map<number, number>();
  let first = 0;
  for (let tree = 0; tree + 1 < starts.length; tree++) {
    const own = new Map<number, number>();
    for (let node = starts[tree]; node < starts[tree + 1]; node++)
      if (input[node] >= 0) own.set(input[node], (own.get(input[node]) ?? 0) + 1);
    const isFull = [...own].some(([j, count]) => count + (counts.get(j) ?? 0) > codes);
    if (isFull && tree > first) {
      runs.push([first, tree]);
      first = tree;
      counts = new Map();
    }
    for (const [j, count] of own) counts.set(j, count + (counts.get(j) ?? 0));
  }
  return [...runs, [first, starts.length - 1]];
}

function isSame(one: Float64Array, other: Float64Array): boolean {
  if (one === other) return true;
  for (let i = 0; i < one.length; i++) if (!Object.is(one[i], other[i])) return false;
  return true;
}
