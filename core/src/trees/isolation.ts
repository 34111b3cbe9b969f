import type { Inputs } from '../inputs/index.ts';
import { addLeaves, EnsembleBuilder, treeCount, type Ensemble } from './ensemble.ts';
import { drawsFrom, wordsFrom, type Draws } from './forest/draws.ts';
import { stableOrder } from './inner-folds.ts';

export interface IsolationForest {
  ensemble: Ensemble;
  /** Patients that each tree was grown on. */
  sample: number;
}

/**
 * Trees that part patients at random until each stands alone; whoever is unlike the others soon does
 * (Liu, Ting & Zhou 2008, IEEE International Conference on Data Mining:413-422). Who lacks an input goes
 * with one of the sides, by chance in proportion to those who are known.
 */
export function growIsolationForest(
  inputs: Inputs,
  { trees = 100, sample = 256, seed }: { trees?: number; sample?: number; seed: number },
): IsolationForest {
  const order = stableOrder(inputs, new Uint8Array(inputs.rowCount), seed);
  const size = Math.min(sample, inputs.rowCount);
  const builder = new EnsembleBuilder();
  for (let tree = 0; tree < trees; tree++) {
    const draws = drawsFrom(wordsFrom(seed, tree));
    // The first of a shuffle.
    const drawn = order.slice();
    for (let i = 0; i < size; i++) {
      const k = i + draws.below(drawn.length - i);
      [drawn[i], drawn[k]] = [drawn[k], drawn[i]];
    }
    isolate(inputs, drawn.slice(0, size), draws, builder);
  }
  return { ensemble: builder.made(), sample: size };
}

/** Of each patient, 0 to 1: the sooner they stand alone, the nearer to 1; about 0.5 where nobody is unlike others. */
export function isolationScores(
  { ensemble, sample }: IsolationForest,
  inputs: Inputs,
): Float64Array {
  const lengths = new Float64Array(inputs.rowCount);
  addLeaves(ensemble, inputs, lengths);
  const usual = usualPath(sample) * treeCount(ensemble);
  return lengths.map((length) => (usual > 0 ? 2 ** (-length / usual) : 0.5));
}

/**
 * Mean path of a search that finds nothing in a binary tree of so many (Liu, Ting & Zhou 2008, equation
 * 1); 1 for two, for whom the harmonic number is not approximated.
 */
export function usualPath(count: number): number {
  if (count < 2) return 0;
  if (count === 2) return 1;
  return 2 * (Math.log(count - 1) + euler) - (2 * (count - 1)) / count;
}

const euler = 0.577_215_664_901_532_9;

function isolate(inputs: Inputs, rows: Int32Array, draws: Draws, builder: EnsembleBuilder): void {
  const deepest = Math.ceil(Math.log2(Math.max(2, rows.length)));
  const byName = [...inputs.names.keys()].sort((one, other) =>
    inputs.names[one] < inputs.names[other] ? -1 : 1,
  );
  const grow = (node: number, own: Int32Array, depth: number) => {
    const part =
      depth < deepest && own.length > 1 ? anyPart(inputs, byName, own, draws) : undefined;
    if (!part) {
      builder.end(node, depth + usualPath(own.length));
      return;
    }
    const { input, threshold, goes, gapsLeft } = part;
    const left = goes
      ? builder.partLevels(node, input, goes, gapsLeft)
      : builder.part(node, input, threshold, gapsLeft);
    const values = inputs.columns[input];
    const toLeft = (row: number) => {
      if (Number.isNaN(values[row])) return gapsLeft;
      return goes ? goes[values[row]] === 1 : values[row] < threshold;
    };
    grow(left, own.filter(toLeft), depth + 1);
    grow(
      left + 1,
      own.filter((row) => !toLeft(row)),
      depth + 1,
    );
  };
  grow(builder.begin(), rows, 0);
}

interface Part {
  input: number;
  threshold: number;
  /** Levels: 1 for each that goes left. */
  goes?: Uint8Array;
  gapsLeft: boolean;
}

/** One of the inputs that differ among these patients, parted anywhere. */
function anyPart(
  { columns, levels, ordered }: Inputs,
  byName: number[],
  rows: Int32Array,
  draws: Draws,
): Part | undefined {
  const left = byName.slice();
  while (left.length > 0) {
    const [input] = left.splice(draws.below(left.length), 1);
    const known = rows.filter((row) => !Number.isNaN(columns[input][row]));
    const values = Array.from(known, (row) => columns[input][row]);
    const [least, most] = [Math.min(...values), Math.max(...values)];
    if (!(least < most)) continue;
    const own = levels?.[input];
    if (own && ordered?.[input] !== true) {
      const goes = anyLevels(new Set(values), own.length, draws);
      const share = values.filter((value) => goes[value] === 1).length / values.length;
      return { input, threshold: 0, goes, gapsLeft: draws.share() < share };
    }
    // Never the least itself: somebody goes left.
    let threshold = least + draws.share() * (most - least);
    if (threshold <= least) threshold = most;
    const share = values.filter((value) => value < threshold).length / values.length;
    return { input, threshold, gapsLeft: draws.share() < share };
  }
  return undefined;
}

/** Some of the levels, not all and not none of those that are there. */
function anyLevels(there: Set<number>, count: number, draws: Draws): Uint8Array {
  for (;;) {
    const goes = Uint8Array.from({ length: count }, () => Number(draws.share() < 0.5));
    let inside = 0;
    for (const level of there) inside += goes[level];
    if (inside > 0 && inside < there.size) return goes;
  }
}
