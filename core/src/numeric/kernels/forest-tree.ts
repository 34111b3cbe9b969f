import { compileWasm, mostMemory } from './compile.ts';
import { wasm } from './forest-tree.wasm.ts';

/** What all trees of a forest are grown on. */
export interface ForestRoom {
  /** Weight, and weight times value, of each patient in turn; filled by the caller for each tree. */
  pairs: Float64Array;
  /** What each input gained so far. */
  gains: Float64Array;
  /**
   * Grows a tree on those whose weight is above 0.
   *
   * @param words of the generator of random numbers, which begins from them
   */
  grow(words: ArrayLike<number>): GrownNodes;
}

/** The nodes of a tree as they were grown; views of what the next one overwrites. */
export interface GrownNodes {
  count: number;
  /** Input of a node, -1 in a leaf. */
  inputOf(node: number): number;
  /** The left child; the right one stands next to it. */
  childOf(node: number): number;
  /** A number: bins up to the first go left, the second is the next that holds anybody. */
  binsOf(node: number): [upTo: number, next: number];
  /** Levels: 1 for each that goes left; absent for a number. */
  levelsOf(node: number): Uint8Array | undefined;
  gapsLeft(node: number): boolean;
  /** Of a leaf. */
  sumsOf(node: number): [weight: number, total: number];
}

export interface ForestColumns {
  /** By input, the bin of each patient. */
  codes: Uint16Array[];
  bins: number[];
  isNumber: boolean[];
  /** Inputs in the order that draws begin from. */
  order: Int32Array;
}

export interface ForestLimits {
  depth: number;
  tries: number;
  leastLeaf: number;
  /** Values are 0 or 1: a node of one kind is not parted. */
  isShare: boolean;
}

/** Undefined where the machine cannot run it, or it does not hold so much. */
export function compiledForestRoom(
  { codes, bins, isNumber, order }: ForestColumns,
  patients: number,
  { depth, tries, leastLeaf, isShare }: ForestLimits,
): ForestRoom | undefined {
  const kernel = compileWasm(wasm);
  if (!kernel) return undefined;
  const width = codes.length;
  const most = bins.reduce((greatest, count) => Math.max(greatest, count), 0) + 1;
  const mostNodes = 2 * patients + 1;
  const mostLevels = bins.reduce((all, count, j) => Math.max(all, isNumber[j] ? 0 : count), 0);
  let end = 1024;
  const room = (bytes: number) => {
    const at = end;
    end += Math.ceil((bytes + 16) / 16) * 16;
    return at;
  };
  const at = {
    codes: room(2 * patients * width),
    bins: room(4 * width),
    kinds: room(width),
    rows: room(4 * patients),
    spare: room(4 * patients),
    pairs: room(16 * patients),
    sums: room(16 * most),
    keys: room(4 * Math.max(most, 64)),
    order: room(4 * width),
    goes: room(most),
    nodes: room(24 * mostNodes),
    masks: room(patients * mostLevels),
    stack: room(16 * (depth + 3)),
    random: room(16),
    mask: room(most),
    gains: room(8 * width),
    task: room(96),
  };
  if (end > mostMemory) return undefined;
  const memory = new WebAssembly.Memory({ initial: Math.ceil(end / 65_536) });
  const { exports } = new WebAssembly.Instance(kernel, { env: { memory } });
  const run = exports.grow as (task: number, count: number) => number;
  const { buffer } = memory;
  codes.forEach((own, j) =>
    new Uint16Array(buffer, at.codes + 2 * patients * j, patients).set(own),
  );
  new Int32Array(buffer, at.bins, width).set(bins);
  new Uint8Array(buffer, at.kinds, width).set(isNumber.map(Number));
  new Int32Array(buffer, at.task, 20).set([
    patients,
    width,
    at.codes,
    at.bins,
    at.kinds,
    at.rows,
    at.spare,
    at.pairs,
    at.sums,
    at.keys,
    at.order,
    at.goes,
    at.nodes,
    at.masks,
    at.stack,
    at.random,
    depth,
    tries,
    at.mask,
    at.gains,
  ]);
  new Float64Array(buffer, at.task + 80, 1)[0] = leastLeaf;
  new Int32Array(buffer, at.task + 88, 1)[0] = Number(isShare);
  const pairs = new Float64Array(buffer, at.pairs, 2 * patients);
  const rows = new Int32Array(buffer, at.rows, patients);
  const random = new Int32Array(buffer, at.random, 4);
  const shuffled = new Int32Array(buffer, at.order, width);
  const whole = new Int32Array(buffer, at.nodes, 6 * mostNodes);
  const halves = new Float64Array(buffer, at.nodes, 3 * mostNodes);
  return {
    pairs,
    gains: new Float64Array(buffer, at.gains, width),
    grow(words) {
      let learned = 0;
      for (let row = 0; row < patients; row++) if (pairs[2 * row] > 0) rows[learned++] = row;
      random.set(words);
      shuffled.set(order);
      return {
        count: run(at.task, learned),
        inputOf: (node) => whole[6 * node],
        childOf: (node) => whole[6 * node + 1],
        binsOf: (node) => [whole[6 * node + 2], whole[6 * node + 3]],
        levelsOf: (node) =>
          (whole[6 * node + 4] & 2) === 0
            ? undefined
            : new Uint8Array(buffer, at.masks + whole[6 * node + 2], bins[whole[6 * node]]),
        gapsLeft: (node) => (whole[6 * node + 4] & 1) === 1,
        sumsOf: (node) => [halves[3 * node + 1], halves[3 * node + 2]],
      };
    },
  };
}
