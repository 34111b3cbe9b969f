import { logistic } from '../../numeric/index.ts';
import { along, type Centred, withinNullSpace } from '../shared/index.ts';

/** A direction of the estimates in which no patient's log-odds go against the patient's outcome. */
export interface Direction {
  /** By input, in SDs of the input. */
  slopes: Float64Array;
  /** By patient: how far the log-odds go along it; 0 for those whom it does not tell. */
  moves: Float64Array;
}

/** Fitted risks closer to 0 or 1 than about this belong to patients who may be told apart. */
const certain = 1e-6;

/**
 * Proves complete or quasi-complete separation (Albert & Anderson 1984, Biometrika 71:1-10), or finds
 * none: a direction is wanted that leaves the log-odds of all patients without a near-certain risk as
 * they are, and moves no other against its outcome. Where the steps went off to infinity, what of
 * them lies in the null space of the first patients' inputs is such a direction.
 *
 * @param estimates on the scale of the centred inputs, intercept first, as far as the steps came
 */
export function separatingDirection(
  inputs: Centred,
  events: ArrayLike<number>,
  estimates: Float64Array,
): Direction | undefined {
  const linear = along(inputs, estimates);
  const settled = linear.map((x) => {
    const risk = logistic(x);
    return Number(risk * (1 - risk) > certain);
  });
  const direction = withinNullSpace(gramOf(inputs, settled), estimates.length, estimates);
  if (!direction) return undefined;
  const moves = along(inputs, direction);
  const largest = moves.reduce((most, move) => Math.max(most, Math.abs(move)), 0);
  if (!(largest > 0)) return undefined;
  for (let i = 0; i < moves.length; i++) {
    const share = moves[i] / largest;
    // Rounding leaves those who do not move a millionth of the largest move or so.
    if (Math.abs(share) < 1e-5) moves[i] = 0;
    else if (share > 0 !== events[i] > 0) return undefined;
  }
  return { slopes: direction.subarray(1), moves };
}

/** The sums of products of the settled patients' inputs. */
function gramOf({ rowCount, columns, means, factors }: Centred, settled: ArrayLike<number>) {
  const ones = new Float64Array(rowCount).fill(1);
  const centred = columns.map((column, j) =>
    Float64Array.from(column, (value) => (value - means[j]) * factors[j]),
  );
  const all = [ones, ...centred];
  const size = all.length;
  const gram = new Float64Array(size * size);
  for (let j = 0; j < size; j++)
    for (let k = 0; k <= j; k++) {
      let sum = 0;
      for (let i = 0; i < rowCount; i++) if (settled[i]) sum += all[j][i] * all[k][i];
      gram[j * size + k] = gram[k * size + j] = sum;
    }
  return gram;
}
