import { blockRows } from '../../numeric/index.ts';
import { along, fillBlock, newBlock, withinNullSpace } from '../shared/index.ts';
import { addTo, assemble, pairsOf, toShares, type Compared } from './information.ts';

/** A direction in which no patient's own level becomes less likely against any other. */
export interface Direction {
  /** By equation and input, in SDs of the input. */
  slopes: Float64Array[];
  /** How many patients become more certain. */
  patients: number;
}

/** Levels whose share is larger than about this are still possible for a patient. */
const certain = 1e-6;

/**
 * Proves separation (Albert & Anderson 1984, Biometrika 71:1-10, for several levels), or finds none:
 * a direction is wanted that leaves each patient's log-odds against every level that is still possible
 * as they are, and lets none rise against the level that the patient has.
 *
 * @param estimates on the scale of the centred inputs, as far as the steps came
 */
export function separatingDirection(fit: Compared, estimates: Float64Array): Direction | undefined {
  const { inputs, equations, count } = fit;
  const size = inputs.columns.length + 1;
  const width = count * size;
  const direction = withinNullSpace(gramOf(fit, estimates), width, estimates);
  if (!direction) return undefined;
  const moves = Array.from({ length: count }, (_, c) =>
    along(inputs, direction.subarray(c * size, (c + 1) * size)),
  );
  let largest = 0;
  for (const move of moves)
    for (let i = 0; i < move.length; i++) largest = Math.max(largest, Math.abs(move[i]));
  if (!(largest > 0)) return undefined;
  let patients = 0;
  for (let i = 0; i < inputs.rowCount; i++) {
    const own = equations[i] < 0 ? 0 : moves[equations[i]][i];
    // Against the reference level, whose log-odds stay 0, and against every other.
    let least = equations[i] < 0 ? Infinity : own;
    let most = equations[i] < 0 ? -Infinity : own;
    for (let c = 0; c < count; c++) {
      if (c === equations[i]) continue;
      least = Math.min(least, own - moves[c][i]);
      most = Math.max(most, own - moves[c][i]);
    }
    // Rounding leaves those who do not move a millionth of the largest move or so.
    if (least < -1e-5 * largest) return undefined;
    if (most > 1e-5 * largest) patients++;
  }
  if (patients === 0) return undefined;
  return {
    slopes: moves.map((_, c) => direction.slice(c * size + 1, (c + 1) * size)),
    patients,
  };
}

/** Sums of z zᵗ, where z takes the own level's inputs less those of another level still possible. */
function gramOf({ inputs, equations, count }: Compared, estimates: Float64Array): Float64Array {
  const size = inputs.columns.length + 1;
  const block = newBlock(size);
  const linear = Array.from({ length: count }, () => new Float64Array(blockRows));
  const shares = Array.from({ length: count + 1 }, () => new Float64Array(blockRows));
  const pairs = pairsOf(count, size);
  for (let start = 0; start < inputs.rowCount; start += blockRows) {
    const rows = Math.min(blockRows, inputs.rowCount - start);
    fillBlock(block, inputs, start, rows);
    for (let c = 0; c < count; c++) {
      block.slopes.set(estimates.subarray(c * size, (c + 1) * size));
      block.combine();
      linear[c].set(block.linear.subarray(0, blockRows));
    }
    toShares(linear, shares, rows);
    for (const { c, d, sums } of pairs) {
      for (let i = 0; i < rows; i++) block.weights[i] = product(equations[start + i], c, d, i);
      block.weights.fill(0, rows);
      addTo(sums, block);
    }
  }
  return symmetric(assemble(pairs, count, size), count * size);

  function product(own: number, c: number, d: number, i: number): number {
    const possible = (e: number) => e !== own && shares[e][i] > certain;
    if (c !== d) return (own === c && possible(d)) || (own === d && possible(c)) ? -1 : 0;
    if (own !== c) return Number(possible(c));
    let others = Number(shares[count][i] > certain);
    for (let e = 0; e < count; e++) others += Number(possible(e));
    return others;
  }
}

function symmetric(lower: Float64Array, size: number): Float64Array {
  for (let j = 0; j < size; j++)
    for (let k = 0; k < j; k++) lower[k * size + j] = lower[j * size + k];
  return lower;
}
