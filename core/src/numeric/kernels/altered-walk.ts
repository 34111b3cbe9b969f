import { compileWasm, mostMemory } from './compile.ts';
import { wasm } from './altered-walk.wasm.ts';
import type { WalkedNodes } from './tree-walk.ts';

export interface AlteredWalk {
  /** Patients who go through trees together, at most. */
  rows: number;
  /** One an input, of the patients as they are; filled by the caller. */
  columns: Float64Array[];
  /** Altered inputs of each alternative, in the order in which they were asked for; filled by the caller. */
  altered: Strided[][];
  /** Sums of the patients, `size` each; filled by the caller. */
  sums: Float64Array;
  /** What each alternative comes to more, `size` each patient; set to 0 by the caller. */
  more: Strided[];
  /** Lets the first `count` patients go through the tree that begins at a node; adds from a place of each sum on. */
  add: (root: number, count: number, place: number) => void;
}

/** What belongs to patient i begins at `first + i * step`. */
export interface Strided {
  values: Float64Array;
  first: number;
  step: number;
}

const leafFlag = 4;
const nothing: Strided = { values: new Float64Array(0), first: 0, step: 0 };

/** Alternatives of one kind: one a bit. */
const mostOfKind = 32;
/** Kinds stand beside patients in one number. */
const mostKinds = 65_536;
/** Patients at once, as far as what is kept of their alternatives stays near. */
const mostRows = 256;
const leastRows = 64;
const mostCells = 100_000;

/**
 * Undefined where the machine cannot run it, or it does not hold so much.
 *
 * @param inputs how many there are
 * @param altered which inputs are others, by alternative
 * @param width numbers of a leaf
 * @param size numbers of each patient's sum
 */
export function compiledAlteredWalk(
  nodes: WalkedNodes,
  inputs: number,
  altered: number[][],
  width: number,
  size: number,
): AlteredWalk | undefined {
  const kernel = compileWasm(wasm);
  const kinds = kindsOf(altered);
  if (!kernel || kinds.length >= mostKinds) return undefined;
  const { input, child, threshold, flags, goesLeft, values } = nodes;
  const rows = Math.max(leastRows, Math.min(mostRows, Math.floor(mostCells / altered.length)));
  const counted = kinds.map(({ all }) => all.length + (all.length % 2));
  const all = counted.reduce((sum, count) => sum + count, 0);
  const cells = rows * all;
  const room = rooms(1024);
  const columnsAt = room(8 * inputs * rows);
  const blocksOf = kinds.map((kind, k) => kind.inputs.map(() => room(8 * counted[k] * rows)));
  const sumsAt = room(8 * size * rows);
  const moreAt = room(8 * size * cells);
  const nodesAt = room(16 * input.length);
  const valuesAt = room(8 * values.length);
  const levelsAt = room(goesLeft.length);
  const listsAt = room(8 * inputs);
  const listedAt = room(4 * kinds.reduce((sum, kind) => sum + kind.inputs.length, 0));
  const blocksAt = room(4 * inputs * kinds.length);
  const kindsAt = room(12 * kinds.length);
  const patientsAt = room(8 * rows + 8);
  const travellersAt = room(8 * cells + 8);
  const asideAt = room(8 * cells + 8);
  const framesAt = room(28 * (longestWay(nodes) + 2));
  const stayingAt = room(4 * rows * kinds.length);
  const arrivedAt = room(12 * cells);
  const saidAt = room(4 * rows);
  const end = room(0);
  if (end > mostMemory) return undefined;
  const memory = new WebAssembly.Memory({ initial: Math.ceil(end / 65_536) });
  const { exports } = new WebAssembly.Instance(kernel, { env: { memory } });
  const { lay, add } = exports as Record<'lay' | 'add', (...all: number[]) => void>;
  const { buffer } = memory;
  const words = (from: number, count: number) => new Uint32Array(buffer, from, count);
  const numbers = (from: number, count: number) => new Float64Array(buffer, from, count);

  const thresholds = numbers(nodesAt, 2 * input.length);
  const node = words(nodesAt, 4 * input.length);
  for (let at = 0; at < input.length; at++) {
    const isLeaf = input[at] < 0;
    thresholds[2 * at] = threshold[at];
    node[4 * at + 2] = isLeaf ? valuesAt + 8 * child[at] : nodesAt + 16 * child[at];
    node[4 * at + 3] = isLeaf ? leafFlag : 8 * input[at] + flags[at];
  }
  numbers(valuesAt, values.length).set(values);
  new Uint8Array(buffer, levelsAt, goesLeft.length).set(goesLeft);

  const blocks = words(blocksAt, inputs * kinds.length);
  kinds.forEach((kind, k) =>
    kind.inputs.forEach((j, at) => (blocks[j * kinds.length + k] = blocksOf[k][at])),
  );
  const lists = words(listsAt, 2 * inputs);
  const listed: number[] = [];
  for (let j = 0; j < inputs; j++) {
    const own = kinds.flatMap((kind, k) => (kind.inputs.includes(j) ? [k] : []));
    lists.set([listedAt + 4 * listed.length, own.length], 2 * j);
    listed.push(...own);
  }
  words(listedAt, listed.length).set(listed);
  const kind = words(kindsAt, 3 * kinds.length);
  let first = 0;
  kinds.forEach((own, k) => {
    kind.set([counted[k], first, 2 ** own.all.length - 1], 3 * k);
    first += counted[k];
  });
  lay(
    ...[levelsAt, columnsAt, 8 * rows, listsAt, blocksAt, kindsAt],
    ...[kinds.length, patientsAt, travellersAt, asideAt, framesAt, stayingAt, arrivedAt, saidAt],
    ...[sumsAt, moreAt, width, 8 * size, 8 * size * all],
  );

  const more = numbers(moreAt, size * cells);
  const alternatives = altered.map(() => ({ altered: [] as Strided[], more: nothing }));
  kinds.forEach((own, k) =>
    own.all.forEach((alternative, place) => {
      alternatives[alternative] = {
        altered: blocksOf[k].map((from) => ({
          ...{ values: numbers(from, counted[k] * rows), first: place, step: counted[k] },
        })),
        more: { values: more, first: (kind[3 * k + 1] + place) * size, step: all * size },
      };
    }),
  );
  return {
    rows,
    columns: Array.from({ length: inputs }, (_, j) => numbers(columnsAt + 8 * j * rows, rows)),
    sums: numbers(sumsAt, size * rows),
    altered: alternatives.map((one) => one.altered),
    more: alternatives.map((one) => one.more),
    add: (root, count, place) => add(nodesAt + 16 * root, count, 8 * place),
  };
}

/** Alternatives that alter the same inputs. */
interface Kind {
  inputs: number[];
  all: number[];
}

function kindsOf(altered: number[][]): Kind[] {
  const found = new Map<string, Kind[]>();
  altered.forEach((inputs, alternative) => {
    const key = inputs.join();
    const same = found.get(key) ?? [];
    found.set(key, same);
    if ((same.at(-1)?.all.length ?? mostOfKind) === mostOfKind) same.push({ inputs, all: [] });
    same.at(-1)!.all.push(alternative);
  });
  // What alters nothing leaves nowhere.
  return [...found.values()].flat();
}

/** The most questions from a root to a leaf. */
function longestWay({ input, child }: WalkedNodes): number {
  const steps = new Int32Array(input.length);
  let most = 0;
  // Children stand behind their parents.
  for (let node = 0; node < input.length; node++) {
    if (input[node] < 0) continue;
    steps[child[node]] = steps[child[node] + 1] = steps[node] + 1;
    most = Math.max(most, steps[node] + 1);
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
