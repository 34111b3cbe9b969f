import type { BinnedCodes } from '../binned.ts';
import { cutBetween } from '../cut.ts';
import { boundsBelow, mayPart, unbounded, type Bounds, type Directions } from '../directions.ts';
import type { EnsembleBuilder } from '../ensemble.ts';
import { bestSplit } from '../split.ts';
import { randomSplit } from './random-split.ts';
import { isByNumber, nodeSums, type MayPart, type Split, type SplitTask } from '../split-rules.ts';
import type { Target } from '../target.ts';
import { drawsFrom, type Draws } from './draws.ts';

export interface ForestRules {
  depth: number;
  leastLeaf: number;
  /** Inputs that are tried at a node, of those that vary in it. */
  tries: number;
  /** Numbers are 0 or 1: a node of one kind is not parted. */
  isShare: boolean;
  /** Whether each of them is parted at random, not where it is best. */
  randomThresholds: boolean;
  directions?: Directions;
}

/** What a leaf says. */
export interface Leaf {
  /** Numbers that each says. */
  width: number;
  /** Writes what one with these sums says. */
  valuesOf(sums: Float64Array, to: Float64Array): void;
}

/** Grows the trees of a forest, one after the other, in the same room. */
export interface TreeGrower {
  /** What each input gained in all of them. */
  gains: Float64Array;
  /** Grows one on the patients whose weight is above 0. */
  grow(builder: EnsembleBuilder, words: [number, number, number, number]): void;
}

/** Of any outcome, and with thresholds at random; the tested twin of what is compiled. */
export class PlainGrower implements TreeGrower {
  readonly gains: Float64Array;
  private readonly rows: Int32Array;
  private readonly spare: Int32Array;
  private readonly sums: Float64Array;
  private readonly keys: Int32Array;
  private readonly order: Int32Array;
  private readonly goes: Uint8Array;
  private readonly places: Int32Array;

  /**
   * @param target with weights, to be written anew for each tree
   * @param columnOrder inputs in an order that does not depend on that of the table
   */
  constructor(
    private readonly binned: BinnedCodes,
    private readonly target: Target & { weights: Float64Array },
    private readonly rules: ForestRules,
    private readonly columnOrder: Int32Array,
    private readonly leaf: Leaf,
  ) {
    this.gains = new Float64Array(binned.columns.length);
    const count = target.weights.length;
    const most = binned.columns.reduce((greatest, { bins }) => Math.max(greatest, bins), 0);
    this.rows = new Int32Array(count);
    this.spare = new Int32Array(count);
    this.sums = new Float64Array(target.width * (most + 1));
    this.keys = new Int32Array(count);
    this.order = columnOrder.slice();
    this.goes = new Uint8Array(most + 1);
    this.places = new Int32Array(most + 1);
  }

  grow(builder: EnsembleBuilder, words: [number, number, number, number]): void {
    const draws = drawsFrom(words);
    const { target, rules, rows } = this;
    const { weights, width } = target;
    let count = 0;
    for (let row = 0; row < weights.length; row++) if (weights[row] > 0) rows[count++] = row;
    this.order.set(this.columnOrder);
    const said = new Float64Array(this.leaf.width);
    const total = new Float64Array(width);
    // Node, where its patients stand, and its depth, in turn: the right child waits beneath the left.
    const waiting = [builder.begin(), 0, count, 0];
    const { directions } = rules;
    // Of each node that waits, where directions are wanted.
    const ends: Bounds[] = [unbounded];
    this.totalOf(0, count, total);
    const all = total.slice();
    while (waiting.length > 0) {
      const depth = waiting.pop()!;
      const to = waiting.pop()!;
      const from = waiting.pop()!;
      const node = waiting.pop()!;
      const bounds = ends.pop() ?? unbounded;
      const rule = directions && mayPart(directions, all, bounds);
      this.totalOf(from, to, total);
      const isTried =
        depth < rules.depth && to - from > 1 && target.weightOf(total, 0) >= 2 * rules.leastLeaf;
      const split =
        isTried && !this.isPure(total) ? this.find(from, to, total, draws, rule) : undefined;
      if (!split) {
        this.leaf.valuesOf(total, said);
        builder.endWith(node, said, 0, said.length);
        continue;
      }
      this.gains[split.column] += split.gain;
      const [left, middle] = this.part(builder, node, from, to, split);
      waiting.push(left + 1, middle, to, depth + 1, left, from, middle, depth + 1);
      if (!directions) continue;
      const leftSums = new Float64Array(width);
      this.totalOf(from, middle, leftSums);
      const rightSums = total.map((sum, k) => sum - leftSums[k]);
      const byNumber = isByNumber(split, this.binned);
      const [below, above] = boundsBelow(directions, all, bounds, [
        split.column,
        leftSums,
        rightSums,
        byNumber,
      ]);
      ends.push(above, below);
    }
  }

  private isPure(total: Float64Array): boolean {
    if (!this.target.codes) return this.rules.isShare && (total[1] === 0 || total[1] === total[0]);
    let levels = 0;
    for (const sum of total) if (sum > 0) levels++;
    return levels < 2;
  }

  private totalOf(from: number, to: number, total: Float64Array): void {
    const { codes, values, weights } = this.target;
    total.fill(0);
    for (let i = from; i < to; i++) {
      const row = this.rows[i];
      if (codes) total[codes[row]] += weights[row];
      else {
        total[0] += weights[row];
        total[1] += weights[row] * values![row];
      }
    }
  }

  /** The best of the tried ones; inputs that part nobody do not count as tried. */
  private find(
    from: number,
    to: number,
    total: Float64Array,
    draws: Draws,
    rule: MayPart | undefined,
  ): Split | undefined {
    const { order, rules, target } = this;
    const task: SplitTask = {
      target,
      node: nodeSums(target, this.sums, total),
      leastLeaf: rules.leastLeaf,
      mayPart: rule,
    };
    let best: Split | undefined;
    let tried = 0;
    for (let i = 0; i < order.length && (tried < rules.tries || !best); i++) {
      const k = i + draws.below(order.length - i);
      const j = order[k];
      order[k] = order[i];
      order[i] = j;
      const found = this.findIn(j, from, to, task, best, draws);
      if (found !== null) {
        tried++;
        best = found;
      }
    }
    return best;
  }

  /** Null where the input is the same in all of these patients. */
  private findIn(
    j: number,
    from: number,
    to: number,
    task: SplitTask,
    best: Split | undefined,
    draws: Draws,
  ): Split | undefined | null {
    const { bins, least } = this.binned.columns[j];
    const codes = this.binned.codes[j];
    const { rows, sums, target, places } = this;
    const { width } = target;
    const count = to - from;
    const isNumber = least !== undefined;
    const search = this.rules.randomThresholds ? randomSplit : bestSplit;
    const first = codes[rows[from]];
    let isSame = true;
    for (let i = from + 1; i < to && isSame; i++) isSame = codes[rows[i]] === first;
    if (isSame) return null;
    if (isNumber && (count <= fewRows || 8 * count < bins)) {
      // Only the bins that are there, in their order.
      const keys = this.sortedKeys(codes, from, count);
      let there = 0;
      let before = -1;
      for (let i = 0; i < count; i++) {
        const code = keys[i] >>> rowBits;
        if (code !== before) {
          places[there] = code;
          sums.fill(0, width * there, width * (there + 1));
          there++;
          before = code;
        }
        this.add(rows[from + (keys[i] & rowMask)], width * (there - 1));
      }
      if (before === bins) there--;
      else sums.fill(0, width * there, width * (there + 1));
      const found = search(
        task,
        { place: j, bins: there, at: 0, isNumber },
        best,
        draws,
        this.binned.columns[j],
        places,
      );
      if (found === best || !found) return best;
      return {
        ...found,
        upTo: places[found.upTo!],
        next: found.next === there ? bins : places[found.next!],
      };
    }
    sums.fill(0, 0, width * (bins + 1));
    for (let i = from; i < to; i++) this.add(rows[i], width * codes[rows[i]]);
    return search(task, { place: j, bins, at: 0, isNumber }, best, draws, this.binned.columns[j]);
  }

  private add(row: number, at: number): void {
    const { codes, values, weights } = this.target;
    const weight = weights[row];
    if (codes) this.sums[at + codes[row]] += weight;
    else {
      this.sums[at] += weight;
      this.sums[at + 1] += weight * values![row];
    }
  }

  /** Bins of these patients in ascending order, each with the patient's place among them. */
  private sortedKeys(codes: Uint16Array, from: number, count: number): Int32Array {
    const { keys, rows } = this;
    if (count > fewRows) {
      for (let i = 0; i < count; i++) keys[i] = (codes[rows[from + i]] << rowBits) | i;
      return keys.subarray(0, count).sort();
    }
    for (let i = 0; i < count; i++) {
      const key = (codes[rows[from + i]] << rowBits) | i;
      let at = i;
      for (; at > 0 && keys[at - 1] > key; at--) keys[at] = keys[at - 1];
      keys[at] = key;
    }
    return keys;
  }

  /** Writes the split. Gives the left child, and where the patients of the right one begin. */
  private part(
    builder: EnsembleBuilder,
    node: number,
    from: number,
    to: number,
    split: Split,
  ): [left: number, middle: number] {
    const { rows, spare, goes } = this;
    const { column, gapsLeft } = split;
    const about = this.binned.columns[column];
    const codes = this.binned.codes[column];
    let left: number;
    if (split.left) {
      left = builder.partLevels(node, column, split.left, gapsLeft);
      goes.set(split.left);
    } else {
      const { threshold, bin } = cutBetween(about, { upTo: split.upTo!, next: split.next! });
      left = builder.part(node, column, threshold, gapsLeft);
      for (let k = 0; k < about.bins; k++) goes[k] = Number(k < bin);
    }
    goes[about.bins] = Number(gapsLeft);
    let middle = from;
    let others = 0;
    for (let i = from; i < to; i++) {
      const row = rows[i];
      if (goes[codes[row]]) rows[middle++] = row;
      else spare[others++] = row;
    }
    for (let i = 0; i < others; i++) rows[middle + i] = spare[i];
    return [left, middle];
  }
}

/** Up to so many patients are sorted, which costs less than going through all bins. */
const fewRows = 48;
/** Enough for the places of patients where keys are made: eight times fewer than a column has bins. */
const rowBits = 14;
const rowMask = 2 ** rowBits - 1;
