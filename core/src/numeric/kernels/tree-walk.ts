import { compileWasm, mostMemory } from './compile.ts';
import { wasm } from './tree-walk.wasm.ts';

/** Nodes of trees in flat arrays; what each means is said where trees are kept. */
export interface WalkedNodes {
  input: Int32Array;
  child: Int32Array;
  threshold: Float64Array;
  flags: Uint8Array;
  goesLeft: Uint8Array;
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
}

/** Compiled where the machine can run it, else plain; the same leaves. */
export const treeWalk = (nodes: WalkedNodes, width: number): TreeWalk =>
  compiledTreeWalk(nodes, width) ?? plainTreeWalk(nodes, width);

/** Undefined where the machine cannot run it, or it does not hold so much. */
export function compiledTreeWalk(nodes: WalkedNodes, width: number): TreeWalk | undefined {
  const kernel = compileWasm(wasm);
  if (!kernel) return undefined;
  const { input, child, threshold, flags, goesLeft } = nodes;
  const stride = 8 * walkedRows;
  const columnsAt = 1024;
  const leavesAt = columnsAt + width * stride;
  const nodesAt = leavesAt + 4 * walkedRows;
  const goesAt = nodesAt + 16 * input.length;
  const end = goesAt + goesLeft.length;
  if (end > mostMemory) return undefined;
  const memory = new WebAssembly.Memory({ initial: Math.ceil(end / 65_536) });
  const { exports } = new WebAssembly.Instance(kernel, { env: { memory } });
  const run = exports.walk as (
    nodes: number,
    root: number,
    values: number,
    stride: number,
    count: number,
    goes: number,
    leaves: number,
  ) => void;
  const { buffer } = memory;
  const thresholds = new Float64Array(buffer, nodesAt, 2 * input.length);
  const children = new Int32Array(buffer, nodesAt, 4 * input.length);
  const halves = new Int16Array(buffer, nodesAt, 8 * input.length);
  for (let node = 0; node < input.length; node++) {
    thresholds[2 * node] = threshold[node];
    children[4 * node + 2] = child[node];
    halves[8 * node + 6] = input[node];
    halves[8 * node + 7] = flags[node];
  }
  new Uint8Array(buffer, goesAt, goesLeft.length).set(goesLeft);
  return {
    columns: Array.from(
      { length: width },
      (_, j) => new Float64Array(buffer, columnsAt + j * stride, walkedRows),
    ),
    leaves: new Int32Array(buffer, leavesAt, walkedRows),
    walk: (root, count) => run(nodesAt, root, columnsAt, stride, count, goesAt, leavesAt),
  };
}

export function plainTreeWalk(
  { input, child, threshold, flags, goesLeft }: WalkedNodes,
  width: number,
): TreeWalk {
  const columns = Array.from({ length: width }, () => new Float64Array(walkedRows));
  const leaves = new Int32Array(walkedRows);
  return {
    columns,
    leaves,
    walk(root, count) {
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
    },
  };
}
