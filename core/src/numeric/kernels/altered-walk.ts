import { codesOf, type Codes } from './altered-codes.ts';
import { kindsOf } from './altered-kinds.ts';
import { compileWasm, mostMemory } from './compile.ts';
import { wasm } from './altered-walk.wasm.ts';
import type { WalkedNodes } from './tree-walk.ts';

export interface AlteredWalk {
  /** Patients who go through trees together, at most. */
  rows: number;
  /** Takes the values of an input of these patients, as they are. */
  putOwn: (input: number, values: Float64Array) => void;
  /** Takes the same of an alternative, for one of its altered inputs. */
  putAltered: (alternative: number, input: number, values: Float64Array) => void;
  /** Sums of the patients, `size` each; filled by the caller. */
  sums: Float64Array;
  /** What all alternatives come to more; set to 0 by the caller. */
  more: Float64Array;
  /** Where an alternative's first patient begins in `more`, and how far it is to the next. */
  placeOf: (alternative: number) => { first: number; step: number };
  /** Lets the first `count` patients go through the tree that begins at a node; adds from a place of each sum on. */
  add: (root: number, count: number, place: number) => void;
}

/** Kinds stand beside patients in one number. */
const mostKinds = 65_536;

/** Patients at once, as far as what is kept of their alternatives stays near. */
const mostRows = 512;
const leastRows = 64;
const mostCells = 100_000;

const leafFlag = 4;

/**
 * Undefined where the machine cannot run it, or it does not hold so much.
 *
 * @param nodes of the trees from one node on to another, at most `mostCodes` that ask the same input
 * @param inputs how many there are
 * @param altered which inputs are others, by alternative
 * @param width numbers of a leaf
 * @param size numbers of each patient's sum
 */
export function compiledAlteredWalk(
  nodes: WalkedNodes,
  [from, to]: readonly [number, number],
  inputs: number,
  altered: number[][],
  width: number,
  size: number,
): AlteredWalk | undefined {
  const kernel = compileWasm(wasm);
  const { kinds, places, placed } = kindsOf(altered);
  if (!kernel || kinds.length >= mostKinds) return undefined;
  const codes = codesOf(nodes, from, to, inputs);
  if (!codes) return undefined;
  const rows = Math.max(leastRows, Math.min(mostRows, Math.floor(mostCells / altered.length)));

  const room = rooms(1024);
  const nodesAt = room(12 * (to - from));
  const valuesAt = room(8 * nodes.values.length);
  const levelsAt = room(nodes.goesLeft.length);
  const columnsAt = room(2 * inputs * rows);
  const blocksOf = kinds.map(({ inputs, lanes }) => inputs.map(() => room(2 * lanes * rows)));
  const sumsAt = room(8 * size * rows);
  const moreAt = room(8 * size * rows * places);
  const listsAt = room(8 * inputs);
  const listedAt = room(4 * kinds.reduce((sum, kind) => sum + kind.inputs.length, 0));
  const blocksAt = room(4 * inputs * kinds.length);
  const kindsAt = room(16 * kinds.length);
  const patientsAt = room(8 * rows + 8);
  const travellersAt = room(8 * rows * places + 8);
  const asideAt = room(8 * rows * places + 8);
  const framesAt = room(28 * (longestWay(nodes, from, to) + 2));
  const stayingStride = 16 * Math.ceil(rows / 4);
  const stayingAt = room(stayingStride * kinds.length);
  const arrivedAt = room(12 * rows * places);
  const saidAt = room(4 * rows);
  const end = room(0);
  if (end > mostMemory) return undefined;
  const memory = new WebAssembly.Memory({ initial: Math.ceil(end / 65_536) });
  const { exports } = new WebAssembly.Instance(kernel, { env: { memory } });
  const { lay, add } = exports as Record<'lay' | 'add', (...all: number[]) => void>;
  const words = (at: number, count: number) => new Uint32Array(memory.buffer, at, count);
  const numbers = (at: number, count: number) => new Float64Array(memory.buffer, at, count);
  const coded = (at: number, count: number) => new Uint16Array(memory.buffer, at, count);

  layNodes(words(nodesAt, 3 * (to - from)), nodes, codes, from, { nodesAt, valuesAt });
  numbers(valuesAt, nodes.values.length).set(nodes.values);
  new Uint8Array(memory.buffer, levelsAt, nodes.goesLeft.length).set(nodes.goesLeft);
  const lists = words(listsAt, 2 * inputs);
  const blocks = words(blocksAt, inputs * kinds.length);
  const listed: number[] = [];
  for (let j = 0; j < inputs; j++) {
    const own = kinds.flatMap((kind, k) => (kind.inputs.includes(j) ? [k] : []));
    for (const k of own) blocks[j * kinds.length + k] = blocksOf[k][kinds[k].inputs.indexOf(j)];
    lists.set([listedAt + 4 * listed.length, own.length], 2 * j);
    listed.push(...own);
  }
  words(listedAt, listed.length).set(listed);
  words(kindsAt, 4 * kinds.length).set(
    kinds.flatMap(({ lanes, first, all }) => [
      2 * lanes,
      first,
      2 ** all.length - 1,
      Math.ceil(all.length / 2),
    ]),
  );
  lay(
    ...[levelsAt, columnsAt, 2 * rows, listsAt, blocksAt, kindsAt],
    ...[kinds.length, patientsAt, travellersAt, asideAt, framesAt, stayingAt, stayingStride],
    ...[arrivedAt, saidAt, sumsAt, moreAt, width, 8 * size, 8 * size * places],
  );

  return {
    rows,
    putOwn: (input, values) => codes.put(input, values, coded(columnsAt + 2 * input * rows, rows)),
    putAltered(alternative, input, values) {
      const { kind, place } = placed[alternative];
      const block = blocks[input * kinds.length + kind];
      const { lanes } = kinds[kind];
      codes.put(input, values, coded(block, lanes * rows), place, lanes);
    },
    sums: numbers(sumsAt, size * rows),
    more: numbers(moreAt, size * rows * places),
    placeOf(alternative) {
      const { kind, place } = placed[alternative];
      return { first: (kinds[kind].first + place) * size, step: places * size };
    },
    add: (root, count, place) => add(nodesAt + 12 * (root - from), count, 8 * place),
  };
}

function layNodes(
  to: Uint32Array,
  { input, child, threshold, flags }: WalkedNodes,
  codes: Codes,
  from: number,
  { nodesAt, valuesAt }: { nodesAt: number; valuesAt: number },
): void {
  for (let at = 0, node = from; at < to.length; at += 3, node++) {
    if (input[node] < 0) {
      to[at + 1] = valuesAt + 8 * child[node];
      to[at + 2] = leafFlag;
      continue;
    }
    to[at] = flags[node] & 2 ? threshold[node] : codes.leastRight(input[node], threshold[node]);
    to[at + 1] = nodesAt + 12 * (child[node] - from);
    to[at + 2] = 8 * input[node] + flags[node];
  }
}

/** The most questions from a root to a leaf. */
function longestWay({ input, child }: WalkedNodes, from: number, to: number): number {
  const steps = new Int32Array(to - from);
  let most = 0;
  // Children stand behind their parents.
  for (let node = from; node < to; node++) {
    if (input[node] < 0) continue;
    const next = steps[node - from] + 1;
    steps[child[node] - from] = steps[child[node] + 1 - from] = next;
    most = Math.max(most, next);
  }
  return most;
}

/** Gives places of so many bytes one behind the other. */
function rooms(from: number): (bytes: number) => number {
  let end = from;
  return (bytes) => {
    const own = end;
    end += 16 * Math.ceil(bytes / 16);
    return own;
  };
}
