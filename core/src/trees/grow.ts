import type { Binned } from './binned.ts';
import { bestSplit } from './split.ts';
import type { Split } from './split-rules.ts';
import { addRows, type Target } from './target.ts';
import type { Tree } from './tree.ts';

export interface GrowRules {
  /** Most splits from the root to a leaf. */
  depth: number;
  /** Weight of patients from which on a node is split. */
  leastNode: number;
  leastLeaf: number;
}

/**
 * Grows a tree on these patients. The sums of every bin of every column are made for the smaller child
 * of a node alone; the larger one's are what is left of the node's.
 *
 * @param rows patients to learn from; reordered in place
 */
export function growTree(binned: Binned, target: Target, rows: Int32Array, rules: GrowRules): Tree {
  const nodes = new Nodes(target.width);
  const pool: Float64Array[] = [];
  const size = binned.offsets[binned.columns.length] * target.width;
  const take = () => pool.pop()?.fill(0) ?? new Float64Array(size);
  const sumUp = (from: number, to: number, into: Float64Array) => {
    addRows(target, binned, rows, [from, to], into);
    return into;
  };

  const first = nodes.add(totalOf(target, rows));
  const waiting: Waiting[] = [{ node: first, from: 0, to: rows.length, depth: 0 }];
  const spare = new Int32Array(rows.length);
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const { node, from, to, depth } = next;
    const total = nodes.sumsOf(node);
    const mayGrow = depth < rules.depth && target.weightOf(total, 0) >= rules.leastNode;
    const sums = mayGrow ? (next.sums ?? sumUp(from, to, take())) : next.sums;
    const split = mayGrow ? findSplit(binned, target, sums!, total, rules) : undefined;
    if (!split) {
      if (sums) pool.push(sums);
      continue;
    }
    const middle = partition(binned, rows, from, to, split, spare);
    const leftSums = totalOf(target, rows, from, middle);
    const left = nodes.add(leftSums);
    const right = nodes.add(total.map((sum, k) => sum - leftSums[k]));
    nodes.split(node, split, left, right, binned);
    const [small, large]: [Waiting, Waiting] =
      middle - from <= to - middle
        ? [
            { node: left, from, to: middle, depth: depth + 1 },
            { node: right, from: middle, to, depth: depth + 1 },
          ]
        : [
            { node: right, from: middle, to, depth: depth + 1 },
            { node: left, from, to: middle, depth: depth + 1 },
          ];
    const grows = (one: Waiting) =>
      one.depth < rules.depth && target.weightOf(nodes.sumsOf(one.node), 0) >= rules.leastNode;
    if (grows(large)) {
      small.sums = sumUp(small.from, small.to, take());
      for (let k = 0; k < size; k++) sums![k] -= small.sums[k];
      large.sums = sums;
    } else pool.push(sums!);
    // The larger one waits: the sums at hand are then never more than the tree is deep.
    waiting.push(large, small);
  }
  return nodes.tree();
}

interface Waiting {
  node: number;
  from: number;
  to: number;
  depth: number;
  sums?: Float64Array;
}

function totalOf(target: Target, rows: Int32Array, from = 0, to = rows.length): Float64Array {
  const total = new Float64Array(target.width);
  const { codes, values, weights } = target;
  for (let i = from; i < to; i++) {
    const row = rows[i];
    const weight = weights ? weights[row] : 1;
    if (codes) total[codes[row]] += weight;
    else {
      total[0] += weight;
      total[1] += weight * values![row];
    }
  }
  return total;
}

function findSplit(
  binned: Binned,
  target: Target,
  sums: Float64Array,
  total: Float64Array,
  rules: GrowRules,
): Split | undefined {
  const node = {
    sums,
    total,
    weight: target.weightOf(total, 0),
    likeness: target.likeness(total, 0),
  };
  let best: Split | undefined;
  for (let j = 0; j < binned.columns.length; j++)
    best = bestSplit(
      target,
      binned.columns[j],
      j,
      node,
      target.width * binned.offsets[j],
      rules.leastLeaf,
      best,
    );
  return best;
}

/** Puts the patients who go left first, both in the order they were in. Gives where the others begin. */
function partition(
  binned: Binned,
  rows: Int32Array,
  from: number,
  to: number,
  { column, gapsLeft, upTo, left }: Split,
  spare: Int32Array,
): number {
  const { cells, offsets } = binned;
  const { length } = binned.columns;
  const { bins } = binned.columns[column];
  let middle = from;
  let others = 0;
  for (let i = from; i < to; i++) {
    const row = rows[i];
    const code = cells[row * length + column] - offsets[column];
    const toLeft = code === bins ? gapsLeft : left ? left[code] === 1 : code <= upTo!;
    if (toLeft) rows[middle++] = row;
    else spare[others++] = row;
  }
  for (let i = 0; i < others; i++) rows[middle + i] = spare[i];
  return middle;
}

/** The nodes of a tree while it grows, in arrays that grow with it. */
class Nodes {
  private count = 0;
  private input = new Int32Array(64);
  private left = new Int32Array(64);
  private right = new Int32Array(64);
  private threshold = new Float64Array(64);
  private gapsLeft = new Uint8Array(64);
  private sets = new Int32Array(64);
  private gain = new Float64Array(64);
  private sums: Float64Array;
  private goesLeft: number[] = [];

  constructor(readonly width: number) {
    this.sums = new Float64Array(64 * width);
  }

  add(sums: Float64Array): number {
    const node = this.count++;
    if (node === this.input.length) this.enlarge();
    this.input[node] = this.left[node] = this.right[node] = this.sets[node] = -1;
    this.sums.set(sums, node * this.width);
    return node;
  }

  sumsOf(node: number): Float64Array {
    return this.sums.slice(node * this.width, (node + 1) * this.width);
  }

  split(node: number, split: Split, left: number, right: number, { columns }: Binned): void {
    this.input[node] = split.column;
    this.left[node] = left;
    this.right[node] = right;
    this.gapsLeft[node] = Number(split.gapsLeft);
    this.gain[node] = split.gain;
    if (split.left) {
      this.sets[node] = this.goesLeft.length;
      this.goesLeft.push(...split.left);
      return;
    }
    const { least, greatest, bins } = columns[split.column];
    this.threshold[node] =
      split.next === bins ? Infinity : between(greatest![split.upTo!], least![split.next!]);
  }

  tree(): Tree {
    const { count } = this;
    return {
      input: this.input.slice(0, count),
      left: this.left.slice(0, count),
      right: this.right.slice(0, count),
      threshold: this.threshold.slice(0, count),
      gapsLeft: this.gapsLeft.slice(0, count),
      sets: this.sets.slice(0, count),
      goesLeft: Uint8Array.from(this.goesLeft),
      sums: this.sums.slice(0, count * this.width),
      gain: this.gain.slice(0, count),
    };
  }

  private enlarge(): void {
    const length = 2 * this.input.length;
    const longer = <T extends Int32Array | Float64Array | Uint8Array>(old: T, size = length): T => {
      const made = new (old.constructor as new (length: number) => T)(size);
      made.set(old);
      return made;
    };
    this.input = longer(this.input);
    this.left = longer(this.left);
    this.right = longer(this.right);
    this.threshold = longer(this.threshold);
    this.gapsLeft = longer(this.gapsLeft);
    this.sets = longer(this.sets);
    this.gain = longer(this.gain);
    this.sums = longer(this.sums, length * this.width);
  }
}

/** Half-way, but never the lower number itself, from which on patients would change sides. */
function between(low: number, high: number): number {
  const middle = low + (high - low) / 2;
  return middle > low ? middle : high;
}
