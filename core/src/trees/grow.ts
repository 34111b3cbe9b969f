import type { Binned } from './binned.ts';
import { between } from './cut.ts';
import { boundsBelow, mayPart, unbounded, type Bounds, type Directions } from './directions.ts';
import type { Span } from './parting.ts';
import { searchFor } from './search.ts';
import { isByNumber, type Split } from './split-rules.ts';
import type { Target } from './target.ts';
import type { Tree } from './tree.ts';

export interface GrowRules {
  /** Most splits from the root to a leaf. */
  depth: number;
  /** Weight of patients from which on a node is split. */
  leastNode: number;
  leastLeaf: number;
  directions?: Directions;
}

/**
 * Grows a tree on these patients.
 *
 * @param rows patients to learn from
 */
export function growTree(binned: Binned, target: Target, rows: Int32Array, rules: GrowRules): Tree {
  const nodes = new Nodes(target.width);
  const search = searchFor(binned, target, rows, rules.leastLeaf);
  const all = totalOf(target, search.rows, 0, rows.length);
  const { directions } = rules;
  const first = nodes.add(all);
  const waiting: Waiting[] = [{ node: first, from: 0, to: rows.length, depth: 0 }];
  const mayGrow = ({ node, depth }: Waiting) =>
    depth < rules.depth && target.weightOf(nodes.sumsOf(node), 0) >= rules.leastNode;
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    const { node, from, to, depth, bounds = unbounded } = next;
    const total = nodes.sumsOf(node);
    const rule = directions && mayPart(directions, all, bounds);
    const split = mayGrow(next) ? search.find(next, total, rule) : undefined;
    if (!split) {
      search.leave(next);
      continue;
    }
    const middle = search.part(next, split);
    const leftSums = totalOf(target, search.rows, from, middle);
    const left = nodes.add(leftSums);
    const rightSums = total.map((sum, k) => sum - leftSums[k]);
    const right = nodes.add(rightSums);
    nodes.split(node, split, left, right, binned);
    const byNumber = isByNumber(split, binned);
    const [below, above] = directions
      ? boundsBelow(directions, all, bounds, [split.column, leftSums, rightSums, byNumber])
      : [];
    const children: Waiting[] = [
      { node: left, from, to: middle, depth: depth + 1, bounds: below },
      { node: right, from: middle, to, depth: depth + 1, bounds: above },
    ];
    const [small, large] = middle - from <= to - middle ? children : children.reverse();
    search.handOn(next, small, mayGrow(large) ? large : undefined);
    // The larger one waits: what is kept for nodes is then never more than the tree is deep.
    waiting.push(large, small);
  }
  return nodes.tree();
}

interface Waiting extends Span {
  node: number;
  depth: number;
  bounds?: Bounds;
}

function totalOf(target: Target, rows: Int32Array, from: number, to: number): Float64Array {
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
