import { compileWasm, mostMemory } from './compile.ts';
import { wasm } from './path-walk.wasm.ts';

/** The questions of one tree, the first one its root, with what does not depend on the patient. */
export interface PathNodes {
  threshold: Float64Array;
  input: Int32Array;
  flags: Uint8Array;
  /** Questions to the left and to the right; -1 for a leaf. */
  left: Int32Array;
  right: Int32Array;
  /** Most questions above a leaf. */
  depth: number;
  /** Places of the quadrature, an even number. */
  places: number;
  /**
   * Of each question, for each of three states of its input and for going right or left: six rows of `places`, as
   * the kernel says.
   */
  tables: Float64Array;
}

/** Patients that are gone through at once. */
export const pathRows = 4096;

export interface PathWalk {
  /** Patients × inputs; filled by the caller, for `pathRows` patients at most. */
  values: Float64Array;
  /** What each input adds, likewise; the caller sets it to 0. */
  sums: Float64Array;
  /** Lets the first `count` patients go through a tree. */
  add: (tree: PathNodes, count: number) => void;
}

const headBytes = 32;

/**
 * Undefined where the machine cannot run it.
 *
 * @param width inputs
 * @param goesLeft of levels: 1 where they go left
 * @param largest bytes that the largest tree takes, as `pathBytes` says
 * @param deepest questions above a leaf, and most places
 */
export function compiledPathWalk(
  width: number,
  goesLeft: Uint8Array,
  largest: number,
  deepest: number,
  mostPlaces: number,
): PathWalk | undefined {
  const kernel = compileWasm(wasm);
  if (!kernel) return undefined;
  const valuesAt = 1024;
  const sumsAt = valuesAt + 8 * width * pathRows;
  const statesAt = sumsAt + 8 * width * pathRows;
  const goesAt = aligned(statesAt + 4 * width);
  const stackAt = aligned(goesAt + goesLeft.length);
  const treeAt = aligned(stackAt + 16 * mostPlaces * (deepest + 2));
  const end = treeAt + largest;
  if (end > mostMemory) return undefined;
  const memory = new WebAssembly.Memory({ initial: Math.ceil(end / 65_536) });
  const { exports } = new WebAssembly.Instance(kernel, { env: { memory } });
  const { add } = exports as { add: (...all: number[]) => void };
  const { buffer } = memory;
  new Uint8Array(buffer, goesAt, goesLeft.length).set(goesLeft);
  return {
    values: new Float64Array(buffer, valuesAt, width * pathRows),
    sums: new Float64Array(buffer, sumsAt, width * pathRows),
    add(tree, count) {
      const { threshold, input, flags, left, right, places, tables } = tree;
      const size = headBytes + 8 * 36 * places;
      const floats = new Float64Array(buffer, treeAt, (size / 8) * input.length);
      const words = new Uint32Array(buffer, treeAt, (size / 4) * input.length);
      for (let node = 0; node < input.length; node++) {
        const at = (size / 8) * node;
        floats[at] = threshold[node];
        words[2 * at + 2] = input[node];
        words[2 * at + 3] = flags[node];
        words[2 * at + 4] = left[node] < 0 ? 0 : treeAt + size * left[node];
        words[2 * at + 5] = right[node] < 0 ? 0 : treeAt + size * right[node];
        const own = 36 * places;
        floats.set(tables.subarray(node * own, (node + 1) * own), at + headBytes / 8);
      }
      add(treeAt, 8 * places, valuesAt, count, width, goesAt, statesAt, sumsAt, stackAt);
    },
  };
}

/** Bytes of a tree of so many questions. */
export const pathBytes = (questions: number, places: number): number =>
  questions * (headBytes + 8 * 36 * places);

const aligned = (at: number) => 16 * Math.ceil(at / 16);
