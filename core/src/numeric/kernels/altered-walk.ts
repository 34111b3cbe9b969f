import { compileWasm, mostMemory } from './compile.ts';
import { wasm } from './altered-walk.wasm.ts';
import type { WalkedNodes } from './tree-walk.ts';

/** Patients who go through trees together. */
export const alteredRows = 256;

export interface AlteredWalk {
  /** One an input, of `alteredRows` patients as they are; filled by the caller. */
  columns: Float64Array[];
  /** One for each of `changes`, likewise. */
  changed: Float64Array[];
  /** Sums of `alteredRows` patients, `size` each; filled by the caller. */
  sums: Float64Array;
  /** By alternative, what they come to more; set to 0 by the caller. */
  more: Float64Array[];
  /** Lets the first `count` patients go through the tree that begins at a node; adds from a place of each sum on. */
  add: (root: number, count: number, place: number) => void;
}

const leafFlag = 4;

/**
 * Undefined where the machine cannot run it, or it does not hold so much.
 *
 * @param inputs how many there are
 * @param alternatives how many there are
 * @param changes which input is another in which alternative
 * @param width numbers of a leaf
 * @param size numbers of each patient's sum
 */
export function compiledAlteredWalk(
  nodes: WalkedNodes,
  inputs: number,
  alternatives: number,
  changes: { alternative: number; input: number }[],
  width: number,
  size: number,
): AlteredWalk | undefined {
  const kernel = compileWasm(wasm);
  if (!kernel) return undefined;
  const { input, child, threshold, flags, goesLeft, values } = nodes;
  // A line more than the patients take: columns at equal distances of 2 KiB would drive each other out of the cache.
  const stride = 8 * alteredRows + 64;
  const room = rooms(1024);
  const columnsAt = room(inputs * stride);
  const changedAt = room(changes.length * stride);
  const sumsAt = room(size * stride);
  const moreAt = room(alternatives * size * stride);
  const nodesAt = room(16 * input.length);
  const valuesAt = room(8 * values.length);
  const goesAt = room(goesLeft.length);
  const pointersAt = room(4 * inputs * (alternatives + 1));
  const listsAt = room(8 * inputs);
  const listedAt = room(8 * changes.length);
  const goneAt = room(alternatives);
  const metAt = room(12 * alternatives);
  const placesAt = room(4 * input.length);
  const end = room(0);
  if (end > mostMemory) return undefined;
  const memory = new WebAssembly.Memory({ initial: Math.ceil(end / 65_536) });
  const { exports } = new WebAssembly.Instance(kernel, { env: { memory } });
  const { add } = exports as { add: (...all: number[]) => void };
  const { buffer } = memory;
  const thresholds = new Float64Array(buffer, nodesAt, 2 * input.length);
  const words = new Uint32Array(buffer, nodesAt, 4 * input.length);
  for (let node = 0; node < input.length; node++) {
    const isLeaf = input[node] < 0;
    thresholds[2 * node] = isLeaf ? NaN : threshold[node];
    words[4 * node + 2] = nodesAt + 16 * (isLeaf ? node - 1 : child[node]);
    words[4 * node + 3] = isLeaf ? leafFlag : 8 * input[node] + flags[node];
  }
  const places = new Uint32Array(buffer, placesAt, input.length);
  for (let node = 0; node < input.length; node++) places[node] = valuesAt + 8 * child[node];
  new Float64Array(buffer, valuesAt, values.length).set(values);
  new Uint8Array(buffer, goesAt, goesLeft.length).set(goesLeft);
  const pointers = new Uint32Array(buffer, pointersAt, inputs * (alternatives + 1));
  for (let at = 0; at < pointers.length; at++) pointers[at] = columnsAt + (at % inputs) * stride;
  changes.forEach((change, place) => {
    pointers[(change.alternative + 1) * inputs + change.input] = changedAt + place * stride;
  });
  const lists = new Uint32Array(buffer, listsAt, 2 * inputs);
  const listed = new Uint32Array(buffer, listedAt, 2 * changes.length);
  let next = 0;
  for (let j = 0; j < inputs; j++) {
    const own = changes.filter((change) => change.input === j);
    lists[2 * j] = listedAt + 8 * next;
    lists[2 * j + 1] = own.length;
    for (const { alternative } of own) {
      listed[2 * next] = alternative;
      listed[2 * next++ + 1] = pointers[(alternative + 1) * inputs + j];
    }
  }
  const arraysAt = (from: number, count: number, each: number) =>
    Array.from(
      { length: count },
      (_, i) => new Float64Array(buffer, from + i * each * stride, each * alteredRows),
    );
  return {
    columns: arraysAt(columnsAt, inputs, 1),
    changed: arraysAt(changedAt, changes.length, 1),
    sums: new Float64Array(buffer, sumsAt, size * alteredRows),
    more: arraysAt(moreAt, alternatives, size),
    add: (root, count, place) =>
      add(
        ...[
          nodesAt,
          placesAt,
          nodesAt + 16 * root,
          count,
          pointersAt,
          inputs,
          listsAt,
          alternatives,
          goesAt,
        ],
        ...[goneAt, metAt, sumsAt + 8 * place, width, 8 * size],
        ...[moreAt + 8 * place, size * stride],
      ),
  };
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
