import { blockRows, type ProductBlock } from '../../numeric/index.ts';
import { type Centred, fillBlock, type State } from '../shared/index.ts';

/** What the likelihood is a function of, besides the estimates. */
export interface Compared {
  inputs: Centred;
  /** By patient: the equation of its level, or -1 for the reference level. */
  equations: Int32Array;
  /** Number of equations: one for each level but the reference. */
  count: number;
  weights?: Float64Array;
}

/**
 * Probabilities of a block's patients, one array an equation, from the linear predictors there; the
 * reference level's last. Written so that no exponential overflows.
 */
export function toShares(linear: Float64Array[], shares: Float64Array[], rows: number): void {
  const count = linear.length;
  for (let i = 0; i < rows; i++) {
    let most = 0;
    for (let c = 0; c < count; c++) if (linear[c][i] > most) most = linear[c][i];
    const rest = Math.exp(-most);
    let sum = rest;
    for (let c = 0; c < count; c++) sum += shares[c][i] = Math.exp(linear[c][i] - most);
    for (let c = 0; c < count; c++) shares[c][i] /= sum;
    shares[count][i] = rest / sum;
  }
}

/**
 * Score, Fisher information and deviance: Agresti (2013), Categorical Data Analysis, 3rd ed., 8.1.
 * Estimates lie equation after equation, each with its intercept first.
 */
export function scoreAndInformation(
  { inputs, equations, count, weights }: Compared,
  estimates: Float64Array,
  block: ProductBlock,
): State {
  const size = inputs.columns.length + 1;
  const score = new Float64Array(count * size);
  const linear = Array.from({ length: count }, () => new Float64Array(blockRows));
  const shares = Array.from({ length: count + 1 }, () => new Float64Array(blockRows));
  const pairs = pairsOf(count, size);
  let deviance = 0;
  for (let start = 0; start < inputs.rowCount; start += blockRows) {
    const rows = Math.min(blockRows, inputs.rowCount - start);
    fillBlock(block, inputs, start, rows);
    for (let c = 0; c < count; c++) {
      block.slopes.set(estimates.subarray(c * size, (c + 1) * size));
      block.combine();
      linear[c].set(block.linear.subarray(0, blockRows));
    }
    toShares(linear, shares, rows);
    for (let i = 0; i < rows; i++) {
      const own = equations[start + i];
      const share = shares[own < 0 ? count : own][i];
      deviance -= 2 * (weights ? weights[start + i] : 1) * logOf(share, linear, own, i);
    }
    for (let c = 0; c < count; c++) {
      for (let i = 0; i < rows; i++)
        block.residual[i] =
          (weights ? weights[start + i] : 1) * (Number(equations[start + i] === c) - shares[c][i]);
      block.residual.fill(0, rows);
      block.score.set(score.subarray(c * size, (c + 1) * size));
      block.project();
      score.set(block.score.subarray(0, size), c * size);
    }
    for (const { c, d, sums } of pairs) {
      for (let i = 0; i < rows; i++) {
        const share = shares[c][i];
        const product = c === d ? share * (1 - share) : -share * shares[d][i];
        block.weights[i] = weights ? weights[start + i] * product : product;
      }
      block.weights.fill(0, rows);
      addTo(sums, block);
    }
  }
  return { score, information: assemble(pairs, count, size), deviance };
}

/** The sums over products of inputs for one pair of equations. */
export interface PairSums {
  c: number;
  d: number;
  sums: Float64Array;
}

/** Every pair of equations, the later first. */
export function pairsOf(count: number, size: number): PairSums[] {
  const pairs: PairSums[] = [];
  for (let c = 0; c < count; c++)
    for (let d = 0; d <= c; d++) pairs.push({ c, d, sums: new Float64Array(size * size) });
  return pairs;
}

export function addTo(sums: Float64Array, block: ProductBlock): void {
  block.sums.set(sums);
  block.add();
  sums.set(block.sums);
}

/** The lower triangle over all equations, from that of each pair. */
export function assemble(pairs: PairSums[], count: number, size: number): Float64Array {
  const all = count * size;
  const whole = new Float64Array(all * all);
  for (const { c, d, sums } of pairs)
    for (let j = 0; j < size; j++)
      for (let k = 0; k < size; k++)
        whole[(c * size + j) * all + d * size + k] = sums[Math.max(j, k) * size + Math.min(j, k)];
  return whole;
}

/** A share that is 0 as a number still has a logarithm. */
function logOf(share: number, linear: Float64Array[], own: number, i: number): number {
  if (share > 0) return Math.log(share);
  let most = 0;
  for (const values of linear) if (values[i] > most) most = values[i];
  return (own < 0 ? 0 : linear[own][i]) - most;
}
