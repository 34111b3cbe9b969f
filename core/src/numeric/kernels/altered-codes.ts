import type { WalkedNodes } from './tree-walk.ts';

/** Values as trees tell them apart: of a number, how many thresholds of its input it reaches; of levels, which it is. */
export interface Codes {
  /** The least code of those who go right at a threshold of an input. */
  leastRight: (input: number, threshold: number) => number;
  /** Writes the codes of values, the first at a place, and each so much after the other. */
  put: (
    input: number,
    values: Float64Array,
    to: Uint16Array,
    first?: number,
    step?: number,
  ) => void;
}

/** Where nothing is known. */
const unknown = 65_535;
/** Nodes of trees whose thresholds have codes surely. */
export const mostCodes = 65_534;

const levelsFlag = 2;

/** Of the nodes from one on to another; undefined where an input has more thresholds than codes. */
export function codesOf(
  { input, threshold, flags }: WalkedNodes,
  from: number,
  to: number,
  inputs: number,
): Codes | undefined {
  const counts = new Int32Array(inputs);
  const isLevels = new Uint8Array(inputs);
  for (let node = from; node < to; node++) {
    if (input[node] < 0) continue;
    counts[input[node]]++;
    if (flags[node] & levelsFlag) isLevels[input[node]] = 1;
  }
  const all = Array.from(counts, (count) => new Float64Array(count));
  counts.fill(0);
  for (let node = from; node < to; node++)
    if (input[node] >= 0) all[input[node]][counts[input[node]]++] = threshold[node];
  const edges = all.map((own, j) => (isLevels[j] ? own : distinct(own)));
  if (edges.some(({ length }, j) => !isLevels[j] && length > mostCodes)) return undefined;
  return {
    leastRight: (j, value) => reached(edges[j], value),
    put(j, values, places, first = 0, step = 1) {
      for (let i = 0, at = first; i < values.length; i++, at += step) {
        const value = values[i];
        if (Number.isNaN(value)) places[at] = unknown;
        else places[at] = isLevels[j] ? value : reached(edges[j], value);
      }
    },
  };
}

function distinct(values: Float64Array): Float64Array {
  const sorted = values.sort();
  let end = 0;
  for (let i = 0; i < sorted.length; i++)
    if (i === 0 || sorted[i] !== sorted[end - 1]) sorted[end++] = sorted[i];
  return sorted.subarray(0, end);
}

/** How many of the edges a value reaches. */
function reached(edges: Float64Array, value: number): number {
  let from = 0;
  let to = edges.length;
  while (from < to) {
    const middle = (from + to) >>> 1;
    if (value < edges[middle]) to = middle;
    else from = middle + 1;
  }
  return from;
}
