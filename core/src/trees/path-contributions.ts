import {
  compiledPathWalk,
  gaussLegendre,
  pathBytes,
  pathRows,
  treeWalk,
  walkedRows,
  type PathNodes,
  type Quadrature,
} from '../numeric/index.ts';
import type { Inputs } from '../inputs/index.ts';
import { treeCount, type Ensemble } from './ensemble.ts';
import { PathDirect } from './path-direct.ts';
import { pathNodes } from './path-nodes.ts';

/** What each input adds to a sum of trees. */
export interface PathContributions {
  /** Mean of the sum over those by whom branches are weighed. */
  base: number;
  /** By input, then patient; with `base` they add up to what the trees say. */
  values: Float64Array[];
}

/** For fewer patients it takes longer to lay out a tree than to go through it. */
const fewestLaidOut = 16;

/**
 * Shapley values of a sum of trees, where whoever is not asked an input goes both ways, by the share of patients
 * who went there (the path-dependent values of Lundberg et al. 2020, Nature Machine Intelligence 2:56-67). Each leaf
 * is a product of one factor an input, so its values are the integral of a polynomial (Owen 1972, Management
 * Science 18:64-79), which Gauss-Legendre quadrature gives exactly.
 *
 * @param weighing patients who say how many go which way, usually those that the trees were grown on
 * @param said what a leaf says, by where its numbers stand
 */
export function pathContributions(
  ensemble: Ensemble,
  inputs: Inputs,
  weighing: Inputs,
  said: (place: number) => number = (place) => ensemble.values[place],
): PathContributions {
  const { input, child } = ensemble;
  const leaves = new Float64Array(input.length);
  for (let node = 0; node < input.length; node++)
    if (input[node] < 0) leaves[node] = said(child[node]);
  const weighed = weigh(ensemble, weighing, leaves, inputs.columns.length);
  const values = inputs.columns.map(() => new Float64Array(inputs.rowCount));
  if (inputs.rowCount < fewestLaidOut || !addLaidOut(weighed, inputs, values))
    addDirect(weighed, inputs, values);
  return { base: weighed.base, values };
}

/** Trees, and what is known of them whoever is asked about. */
export interface Weighed {
  ensemble: Ensemble;
  /** By node, what a leaf says. */
  leaves: Float64Array;
  /** By node, share of those who come to the question above that go here. */
  goes: Float64Array;
  base: number;
  trees: { root: number; questions: number; depth: number; places: number }[];
  /** By number of places. */
  quadratures: Map<number, Quadrature>;
}

function weigh(
  ensemble: Ensemble,
  weighing: Inputs,
  leaves: Float64Array,
  inputCount: number,
): Weighed {
  const { input, child, starts } = ensemble;
  const covers = coversOnce(ensemble, weighing);
  const goes = new Float64Array(input.length).fill(1);
  const means = leaves.slice();
  const depths = new Int32Array(input.length);
  // Children stand behind their parents.
  for (let node = input.length - 1; node >= 0; node--) {
    if (input[node] < 0) continue;
    const [left, right] = [child[node], child[node] + 1];
    goes[left] = covers[node] > 0 ? covers[left] / covers[node] : 0.5;
    goes[right] = 1 - goes[left];
    means[node] = goes[left] * means[left] + goes[right] * means[right];
    depths[node] = 1 + Math.max(depths[left], depths[right]);
  }
  const asked = new Int32Array(inputCount);
  const roots = Array.from(starts.subarray(0, treeCount(ensemble)));
  const trees = roots.map((root, tree) => {
    const depth = depths[root];
    // A leaf has one factor for each input above it; pairs of places are gone through at once.
    const places = 2 * Math.ceil(mostAsked(ensemble, root, asked) / 4);
    return { root, questions: (starts[tree + 1] - root - 1) / 2, depth, places };
  });
  return {
    ...{ ensemble, leaves, goes, trees },
    base: roots.reduce((sum, root) => sum + means[root], 0),
    quadratures: new Map(trees.map(({ places }) => [places, gaussLegendre(places)])),
  };
}

/** Most different inputs that are asked above a leaf. @param asked how often each was above the node */
function mostAsked(ensemble: Ensemble, node: number, asked: Int32Array): number {
  const j = ensemble.input[node];
  if (j < 0) return 0;
  const own = asked[j]++ === 0 ? 1 : 0;
  const left = mostAsked(ensemble, ensemble.child[node], asked);
  const right = mostAsked(ensemble, ensemble.child[node] + 1, asked);
  asked[j]--;
  return own + Math.max(left, right);
}

/** What trees were last weighed by: the same patients weigh for everybody who is asked about. */
const lastCovers = new WeakMap<Ensemble, { weighing: Inputs; covers: Float64Array }>();

function coversOnce(ensemble: Ensemble, weighing: Inputs): Float64Array {
  const last = lastCovers.get(ensemble);
  if (last?.weighing === weighing) return last.covers;
  const covers = coversOf(ensemble, weighing);
  lastCovers.set(ensemble, { weighing, covers });
  return covers;
}

/** By node, how many of the patients come by. */
function coversOf(ensemble: Ensemble, { rowCount, columns }: Inputs): Float64Array {
  const { input, child, starts, values } = ensemble;
  const walk = treeWalk(ensemble, columns.length);
  const atPlace = new Float64Array(values.length);
  for (let from = 0; from < rowCount; from += walkedRows) {
    const rows = Math.min(walkedRows, rowCount - from);
    columns.forEach((column, j) => walk.columns[j].set(column.subarray(from, from + rows)));
    for (let tree = 0; tree < treeCount(ensemble); tree++) {
      walk.walk(starts[tree], rows);
      for (let i = 0; i < rows; i++) atPlace[walk.leaves[i]]++;
    }
  }
  const covers = new Float64Array(input.length);
  for (let node = input.length - 1; node >= 0; node--)
    covers[node] =
      input[node] < 0 ? atPlace[child[node]] : covers[child[node]] + covers[child[node] + 1];
  return covers;
}

function addDirect(weighed: Weighed, { rowCount, columns }: Inputs, values: Float64Array[]): void {
  const direct = new PathDirect(weighed, columns.length);
  for (let row = 0; row < rowCount; row++) {
    const sums = direct.of(columns, row);
    values.forEach((own, j) => (own[row] = sums[j]));
  }
}

/** Whether the machine could do it. */
function addLaidOut(
  weighed: Weighed,
  { rowCount, columns }: Inputs,
  values: Float64Array[],
): boolean {
  const { trees, ensemble } = weighed;
  const width = columns.length;
  const most = (of: (tree: Weighed['trees'][number]) => number) =>
    trees.reduce((sum, tree) => Math.max(sum, of(tree)), 0);
  const walk = compiledPathWalk(
    width,
    ensemble.goesLeft,
    most(({ questions, places }) => pathBytes(questions, places)),
    most(({ depth }) => depth),
    most(({ places }) => places),
  );
  if (!walk) return false;
  const layOut = laidOutOnce(weighed, rowCount > pathRows);
  for (let from = 0; from < rowCount; from += pathRows) {
    const rows = Math.min(pathRows, rowCount - from);
    columns.forEach((column, j) => {
      for (let i = 0; i < rows; i++) walk.values[i * width + j] = column[from + i];
    });
    walk.sums.fill(0);
    for (const tree of trees) if (tree.depth > 0) walk.add(layOut(tree), rows);
    values.forEach((own, j) => {
      for (let i = 0; i < rows; i++) own[from + i] = walk.sums[i * width + j];
    });
  }
  return true;
}

/** Bytes of trees that are kept laid out. */
const mostKept = 64_000_000;

/** Lays trees out, those that are asked again once, as far as there is room. */
function laidOutOnce(weighed: Weighed, again: boolean) {
  const kept = new Map<Weighed['trees'][number], PathNodes>();
  let bytes = 0;
  return (tree: Weighed['trees'][number]): PathNodes => {
    const known = kept.get(tree);
    if (known) return known;
    const made = pathNodes(weighed, tree);
    bytes += pathBytes(tree.questions, tree.places);
    if (again && bytes <= mostKept) kept.set(tree, made);
    return made;
  };
}
