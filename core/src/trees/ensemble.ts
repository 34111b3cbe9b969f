import { treeWalk, walkedRows } from '../numeric/index.ts';
import type { Inputs } from '../inputs/index.ts';

/** Many trees in flat arrays, one behind the other. */
export interface Ensemble {
  /** Node at which each tree begins; behind the last, how many nodes there are. */
  starts: Int32Array;
  /** Input that parts the patients of each node; -1 in a leaf. */
  input: Int32Array;
  /** The left child; the right one stands next to it. Of a leaf, where its numbers stand in `values`. */
  child: Int32Array;
  /** A number: whoever has less goes left. Levels: where the node's own begin in `goesLeft`. */
  threshold: Float64Array;
  /** 1 where those who lack it go left; 2 more where the input is levels. */
  flags: Uint8Array;
  /** 1 for each level that goes left. */
  goesLeft: Uint8Array;
  /** What each leaf adds. */
  values: Float64Array;
}

export const gapsLeftFlag = 1;
export const levelsFlag = 2;

export const treeCount = ({ starts }: Ensemble): number => starts.length - 1;

/**
 * Adds to each patient what the leaves hold that the trees lead to. Of `groups` trees in turn each adds to
 * a sum of its own, `width` numbers at a time.
 *
 * @param sums patients × groups × width, row-major
 * @param upTo trees that are gone through
 */
export function addLeaves(
  ensemble: Ensemble,
  { rowCount, columns }: Inputs,
  sums: Float64Array,
  { groups = 1, width = 1, upTo = treeCount(ensemble) } = {},
): void {
  const { starts, values } = ensemble;
  const trees = Math.min(upTo, treeCount(ensemble));
  const size = groups * width;
  const walk = treeWalk(ensemble, columns.length, width === 1 ? groups : 0);
  for (let from = 0; from < rowCount; from += walkedRows) {
    const rows = Math.min(walkedRows, rowCount - from);
    columns.forEach((column, j) => walk.columns[j].set(column.subarray(from, from + rows)));
    const at = (group: number) => from * size + group * width;
    if (width === 1) {
      walk.sums.forEach((own, group) => {
        for (let i = 0; i < rows; i++) own[i] = sums[at(group) + i * size];
      });
      for (let tree = 0; tree < trees; tree++) walk.add(starts[tree], rows, tree % groups);
      walk.sums.forEach((own, group) => {
        for (let i = 0; i < rows; i++) sums[at(group) + i * size] = own[i];
      });
      continue;
    }
    for (let tree = 0; tree < trees; tree++) {
      walk.walk(starts[tree], rows);
      const place = at(tree % groups);
      for (let i = 0; i < rows; i++)
        for (let k = 0; k < width; k++) sums[place + i * size + k] += values[walk.leaves[i] + k];
    }
  }
}

/** An ensemble while its trees are grown. */
export class EnsembleBuilder {
  private nodes = 0;
  private input = new Int32Array(256);
  private child = new Int32Array(256);
  private threshold = new Float64Array(256);
  private flags = new Uint8Array(256);
  private leaves = 0;
  private values = new Float64Array(256);
  private readonly starts: number[] = [];
  private readonly goesLeft: number[] = [];

  /** Begins a tree of so many nodes, all leaves until they are parted. Gives its root. */
  begin(nodes = 1): number {
    this.starts.push(this.nodes);
    return this.room(nodes);
  }

  /** Parts a node; those of less go left, and those without if so said. Gives the left child. */
  part(node: number, input: number, threshold: number, gapsLeft: boolean): number {
    const left = this.room(2);
    this.set(node, input, left, threshold, gapsLeft);
    return left;
  }

  partLevels(node: number, input: number, goes: ArrayLike<number>, gapsLeft: boolean): number {
    const left = this.room(2);
    this.setLevels(node, input, left, goes, gapsLeft);
    return left;
  }

  /** Parts a node whose children have room already. */
  set(node: number, input: number, left: number, threshold: number, gapsLeft: boolean): void {
    this.input[node] = input;
    this.child[node] = left;
    this.threshold[node] = threshold;
    this.flags[node] = gapsLeft ? gapsLeftFlag : 0;
  }

  setLevels(
    node: number,
    input: number,
    left: number,
    goes: ArrayLike<number>,
    gapsLeft: boolean,
  ): void {
    this.set(node, input, left, this.goesLeft.length, gapsLeft);
    this.flags[node] |= levelsFlag;
    for (let level = 0; level < goes.length; level++) this.goesLeft.push(goes[level]);
  }

  /** Ends a node with one number. */
  end(node: number, value: number): void {
    const place = this.leaves++;
    if (place === this.values.length) this.values = longer(this.values);
    this.child[node] = place;
    this.values[place] = value;
  }

  /** Ends a node with several numbers, those of `from` from a place on. */
  endWith(node: number, from: Float64Array, at: number, width: number): void {
    const place = this.leaves;
    this.leaves += width;
    while (this.leaves > this.values.length) this.values = longer(this.values);
    this.child[node] = place;
    for (let k = 0; k < width; k++) this.values[place + k] = from[at + k];
  }

  made(): Ensemble {
    const { nodes } = this;
    return {
      starts: Int32Array.from([...this.starts, nodes]),
      input: this.input.slice(0, nodes),
      child: this.child.slice(0, nodes),
      threshold: this.threshold.slice(0, nodes),
      flags: this.flags.slice(0, nodes),
      goesLeft: Uint8Array.from(this.goesLeft),
      values: this.values.slice(0, this.leaves),
    };
  }

  private room(count: number): number {
    const first = this.nodes;
    this.nodes += count;
    while (this.nodes > this.input.length) {
      this.input = longer(this.input);
      this.child = longer(this.child);
      this.threshold = longer(this.threshold);
      this.flags = longer(this.flags);
    }
    for (let node = first; node < this.nodes; node++) this.input[node] = -1;
    return first;
  }
}

function longer<T extends Int32Array | Float64Array | Uint8Array>(old: T): T {
  const made = new (old.constructor as new (length: number) => T)(2 * old.length);
  made.set(old);
  return made;
}
