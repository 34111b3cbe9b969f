import type { BinnedColumn } from './binned.ts';
import type { Target } from './target.ts';

/** One way to part the patients of a node. */
export interface Split {
  column: number;
  /** What is gained in likeness. */
  gain: number;
  gapsLeft: boolean;
  /** A number: bins up to this one go left. Levels: undefined. */
  upTo?: number;
  /** A number: the next bin that any patient of the node is in; `bins` where only those not known go right. */
  next?: number;
  /** Levels: 1 for each that goes left. */
  left?: Uint8Array;
}

export interface SplitRules {
  /** Weight of patients that each side must have. */
  leastLeaf: number;
}

/** Gains that differ by rounding alone are the same: the first column and the lowest threshold stand. */
const sameGain = 1e-10;

/** Up to so many levels of a column with three or more outcomes every way to part them is tried. */
const tryAll = 10;

/**
 * The best split of a node by one column, if it is better than what was found before.
 *
 * @param sums of the column's bins, those of patients who lack it last
 * @param total sums of the node
 */
export function bestSplit(
  target: Target,
  column: BinnedColumn,
  place: number,
  sums: Float64Array,
  at: number,
  total: Float64Array,
  rules: SplitRules,
  best: Split | undefined,
): Split | undefined {
  const scan = new Scan(target, column, place, sums, at, total, rules, best);
  if (column.least) scan.inOrder(scan.present());
  else scan.levels();
  return scan.best;
}

class Scan {
  readonly left: Float64Array;
  readonly right: Float64Array;
  readonly gaps: Float64Array;
  readonly hasGaps: boolean;
  readonly whole: number;
  readonly weight: number;

  constructor(
    readonly target: Target,
    readonly column: BinnedColumn,
    readonly place: number,
    readonly sums: Float64Array,
    readonly at: number,
    readonly total: Float64Array,
    readonly rules: SplitRules,
    public best: Split | undefined,
  ) {
    const { width } = target;
    this.left = new Float64Array(width);
    this.right = new Float64Array(width);
    this.gaps = sums.subarray(at + width * column.bins, at + width * (column.bins + 1));
    this.whole = target.likeness(total, 0);
    this.weight = target.weightOf(total, 0);
    this.hasGaps = this.isThere(column.bins);
  }

  /** A bin that somebody of the node is in, whatever subtraction left of rounding. */
  isThere(bin: number): boolean {
    const { target, sums, at, weight } = this;
    return target.weightOf(sums, at + target.width * bin) > 1e-9 * weight;
  }

  present(): number[] {
    const there: number[] = [];
    for (let bin = 0; bin < this.column.bins; bin++) if (this.isThere(bin)) there.push(bin);
    return there;
  }

  add(bin: number): void {
    const { width } = this.target;
    for (let k = 0; k < width; k++) this.left[k] += this.sums[this.at + width * bin + k];
  }

  /** Splits behind each of the bins in this order, those not known on either side. */
  inOrder(order: number[]): void {
    this.left.fill(0);
    for (let i = 0; i < order.length; i++) {
      this.add(order[i]);
      const isLast = i + 1 === order.length;
      if (isLast && !this.hasGaps) break;
      const next = isLast ? this.column.bins : order[i + 1];
      const describe = (): Partial<Split> =>
        this.column.least ? { upTo: order[i], next } : { left: this.mask(order.slice(0, i + 1)) };
      this.consider(false, describe);
      if (this.hasGaps && !isLast) {
        for (let k = 0; k < this.left.length; k++) this.left[k] += this.gaps[k];
        this.consider(true, describe);
        for (let k = 0; k < this.left.length; k++) this.left[k] -= this.gaps[k];
      }
    }
  }

  /** Takes the split with what stands in `left` if it is better than the best so far. */
  consider(gapsLeft: boolean, describe: () => Partial<Split>): void {
    const { target, left, right, total, rules } = this;
    const onLeft = target.weightOf(left, 0);
    if (onLeft < rules.leastLeaf || this.weight - onLeft < rules.leastLeaf) return;
    for (let k = 0; k < right.length; k++) right[k] = total[k] - left[k];
    const gain = target.likeness(left, 0) + target.likeness(right, 0) - this.whole;
    const least = this.best ? this.best.gain : 0;
    if (!(gain > least + sameGain * Math.max(Math.abs(this.whole), least))) return;
    // Later patients who lack it go where more went, where nobody lacked it.
    const toLeft = this.hasGaps ? gapsLeft : 2 * onLeft >= this.weight;
    this.best = { column: this.place, gain, gapsLeft: toLeft, ...describe() };
  }

  mask(levels: number[]): Uint8Array {
    const left = new Uint8Array(this.column.bins);
    for (const level of levels) left[level] = 1;
    return left;
  }

  /**
   * Levels in the order of their standing, which holds the best way to part them where there are two
   * outcomes or a number (Fisher 1958, Journal of the American Statistical Association 53:789-798). Of
   * more outcomes, every way where the levels are few, else the order by each outcome.
   */
  levels(): void {
    const { target, sums, at } = this;
    const there = this.present();
    const by = (level: number) => (bin: number) =>
      target.standing(sums, at + target.width * bin, level);
    const ordered = (level: number) => {
      const standing = by(level);
      return there.toSorted((a, b) => standing(a) - standing(b) || a - b);
    };
    if (target.width === 2) this.inOrder(ordered(target.codes ? 1 : 0));
    else if (there.length > tryAll)
      for (let level = 0; level < target.width; level++) this.inOrder(ordered(level));
    else this.every(there);
  }

  every(there: number[]): void {
    const last = there.length - 1;
    for (let set = 1; set < 2 ** there.length; set++) {
      // Either side may be called the left one: the last level stands on the right.
      if ((set & (1 << last)) !== 0 && !(this.hasGaps && set === 2 ** there.length - 1)) continue;
      const members = there.filter((_, i) => (set & (1 << i)) !== 0);
      this.left.fill(0);
      for (const bin of members) this.add(bin);
      const describe = () => ({ left: this.mask(members) });
      this.consider(false, describe);
      if (!this.hasGaps || members.length === there.length) continue;
      for (let k = 0; k < this.left.length; k++) this.left[k] += this.gaps[k];
      this.consider(true, describe);
    }
  }
}
