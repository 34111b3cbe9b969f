import { compileWasm, mostMemory } from './compile.ts';
import { wasm } from './tree-walk.wasm.ts';

/** Nodes of trees in flat arrays; what each means is said where trees are kept. */
export interface WalkedNodes {
  input: Int32Array;
  child: Int32Array;
  threshold: Float64Array;
  flags: Uint8Array;
  goesLeft: Uint8Array;
  /** What is said at `child` of a leaf. */
  values: Float64Array;
}

/** Patients who go through trees together. */
export const walkedRows = 256;

export interface TreeWalk {
  /** One an input, of `walkedRows` patients; filled by the caller. */
  columns: Float64Array[];
  /** After `walk`, what stands at `child` of the leaf of each. */
  leaves: Int32Array;
  /** Lets the first `count` patients go through the tree that begins at a node. */
  walk: (root: number, count: number) => void;
  /** Sums of `walkedRows` patients for each of the groups that were asked for; filled by the caller. */
  sums: Float64Array[];
  /** Lets them go through it, and adds what is said in their leaf to their sum of a group. */
  add: (root: number, count: number, group: number) => void;
}

/**
 * Compiled where the machine can run it, else plain; the same leaves and sums.
 *
 * @param width inputs
 * @param groups sums that are kept of each patient
 */
export const treeWalk = (nodes: WalkedNodes, width: number, groups = 0): TreeWalk =>
  compiledTreeWalk(nodes, width, groups) ?? plainTreeWalk(nodes, width, groups);

/** Undefined where the machine cannot run it, or it does not hold so much. */
export function compiledTreeWalk(
  nodes: WalkedNodes,
  width: number,
  groups = 0,
): TreeWalk | undefined {
  const kernel = compileWasm(wasm);
  if (!kernel) return undefined;
  const { input, child, threshold, flags, goesLeft, values } = nodes;
  const stride = 8 * walkedRows;
  const columnsAt = 1024;
  const leavesAt = columnsAt + width * stride;
  const sumsAt = leavesAt + 4 * walkedRows;
  const nodesAt = sumsAt + groups * stride;
  const saidAt = nodesAt + 16 * input.length;
  const placesAt = saidAt + 8 * input.length;
  const goesAt = placesAt + 4 * input.length;
  const end = goesAt + goesLeft.length;
  if (end > mostMemory) return undefined;
  const memory = new WebAssembly.Memory({ initial: Math.ceil(end / 65_536) });
  const { exports } = new WebAssembly.Instance(kernel, { env: { memory } });
  const { walk, add } = exports as Record<'walk' | 'add', Going>;
  const { buffer } = memory;
  const thresholds = new Float64Array(buffer, nodesAt, 2 * input.length);
  const words = new Uint32Array(buffer, nodesAt, 4 * input.length);
  for (let node = 0; node < input.length; node++) {
    const isLeaf = input[node] < 0;
    thresholds[2 * node] = isLeaf ? NaN : threshold[node];
    words[4 * node + 2] = nodesAt + 16 * (isLeaf ? node - 1 : child[node]);
    words[4 * node + 3] = isLeaf ? leafFlag : input[node] * stride + flags[node];
  }
  new Int32Array(buffer, placesAt, input.length).set(child);
  const said = new Float64Array(buffer, saidAt, input.length);
  for (let node = 0; node < input.length; node++)
    if (input[node] < 0) said[node] = values[child[node]];
  new Uint8Array(buffer, goesAt, goesLeft.length).set(goesLeft);
  const steps = deepest(nodes);
  // Where there are none, nobody asks whether an input is levels.
  const levelsAt = goesLeft.length > 0 ? goesAt : 0;
  const going = (root: number) => [nodesAt, nodesAt + 16 * root, steps[root]] as const;
  return {
    columns: Array.from(
      { length: width },
      (_, j) => new Float64Array(buffer, columnsAt + j * stride, walkedRows),
    ),
    leaves: new Int32Array(buffer, leavesAt, walkedRows),
    walk: (root, count) => walk(...going(root), columnsAt, count, levelsAt, placesAt, leavesAt),
    sums: Array.from(
      { length: groups },
      (_, group) => new Float64Array(buffer, sumsAt + group * stride, walkedRows),
    ),
    add: (root, count, group) =>
      add(...going(root), columnsAt, count, levelsAt, saidAt, sumsAt + group * stride),
  };
}

type Going = (
  nodes: number,
  root: number,
  steps: number,
  values: number,
  count: number,
  goes: number,
  of: number,
  to: number,
) => void;

const leafFlag = 4;

/** Of each node, the most questions from there to a leaf. */
function deepest({ input, child }: WalkedNodes): Int32Array {
  const steps = new Int32Array(input.length);
  // Children stand behind their parents.
  for (let node = input.length - 1; node >= 0; node--)
    if (input[node] >= 0) steps[node] = 1 + Math.max(steps[child[node]], steps[child[node] + 1]);
  return steps;
}

export function plainTreeWalk(
  { input, child, threshold, flags, goesLeft, values }: WalkedNodes,
  width: number,
  groups = 0,
): TreeWalk {
  const room = (count: number) => Array.from({ length: count }, () => new Float64Array(walkedRows));
  const columns = room(width);
  const sums = room(groups);
  const leaves = new Int32Array(walkedRows);
  const walk = (root: number, count: number) => {
    for (let i = 0; i < count; i++) {
      let node = root;
      for (let j = input[node]; j >= 0; j = input[node]) {
        const value = columns[j][i];
        let toLeft: boolean;
        if (Number.isNaN(value)) toLeft = (flags[node] & 1) === 1;
        else if (flags[node] > 1) toLeft = goesLeft[threshold[node] + value] === 1;
        else toLeft = value < threshold[node];
        node = toLeft ? child[node] : child[node] + 1;
      }
      leaves[i] = child[node];
    }
  };
  return {
    columns,
    leaves,
    walk,
    sums,
    add(root, count, group) {
      walk(root, count);
      for (let i = 0; i < count; i++) sums[group][i] += values[leaves[i]];
    },
  };
}
