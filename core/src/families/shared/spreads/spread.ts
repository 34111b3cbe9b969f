/** How an input is spread in each level of the outcome; `logs` say how likely a value is there. */
export type Spread = NormalSpread | KernelSpread | CountSpread;

/** A normal curve in each level. */
export interface NormalSpread {
  by: 'normal';
  means: number[];
  /** Divisor n - 1; where fewer than two different values are known, that of the other levels together. */
  deviations: number[];
  /** Levels whose deviation is that of the others. */
  borrowed: number[];
}

/** A normal curve of one width over each patient's value. */
export interface KernelSpread {
  by: 'kernel';
  widths: number[];
  /** By level, ascending, and the share of its patients at each. */
  centres: Float64Array[];
  masses: Float64Array[];
  /** As of normal curves. */
  borrowed: number[];
}

/** Shares of the levels of a predictor. */
export interface CountSpread {
  by: 'counts';
  levels: string[];
  /** By level of the outcome. */
  shares: number[][];
}

/** Adds the logarithm of how likely each value is in a level; nothing where it is not known. */
export function addLogs(
  spread: Spread,
  level: number,
  values: Float64Array,
  to: Float64Array,
  width: number,
): void {
  if (spread.by === 'normal') addNormal(spread, level, values, to, width);
  else if (spread.by === 'kernel') {
    const density = kernelLog(spread, level);
    // Laboratories round: the same values come again and again.
    const known = new Map<number, number>();
    for (let row = 0; row < values.length; row++) {
      const value = values[row];
      if (Number.isNaN(value)) continue;
      let log = known.get(value);
      if (log === undefined) known.set(value, (log = density(value)));
      to[row * width + level] += log;
    }
  } else {
    const logs = spread.shares[level].map(Math.log);
    for (let row = 0; row < values.length; row++)
      if (!Number.isNaN(values[row])) to[row * width + level] += logs[values[row]];
  }
}

/** How dense a number is in a level. */
export function densityOf(spread: NormalSpread | KernelSpread, level: number, at: number): number {
  const to = new Float64Array(spread.by === 'normal' ? spread.means.length : spread.widths.length);
  addLogs(spread, level, Float64Array.of(at), to, to.length);
  return Math.exp(to[level]);
}

function addNormal(
  { means, deviations }: NormalSpread,
  level: number,
  values: Float64Array,
  to: Float64Array,
  width: number,
): void {
  const [mean, deviation] = [means[level], deviations[level]];
  const constant = -Math.log(deviation) - halfLogTwoPi;
  const by = -0.5 / deviation ** 2;
  for (let row = 0, at = level; row < values.length; row++, at += width) {
    const away = values[row] - mean;
    if (!Number.isNaN(away)) to[at] += constant + by * away * away;
  }
}

const halfLogTwoPi = 0.5 * Math.log(2 * Math.PI);

/** Curves farther than so many widths behind the nearest add nothing that a number can hold. */
const reach = 9;

/** Summed on the scale of the nearest curve, so that far from all of them nothing comes to 0. */
function kernelLog({ widths, centres, masses }: KernelSpread, level: number) {
  const [width, own, mass] = [widths[level], centres[level], masses[level]];
  const constant = -Math.log(width) - halfLogTwoPi;
  return (value: number): number => {
    let low = 0;
    for (let high = own.length; low < high;) {
      const middle = (low + high) >> 1;
      if (own[middle] < value) low = middle + 1;
      else high = middle;
    }
    const behind = low > 0 ? value - own[low - 1] : Infinity;
    const ahead = low < own.length ? own[low] - value : Infinity;
    const nearest = Math.min(behind, ahead) / width;
    const exponent = (nearest * nearest) / 2;
    const farthest = Math.sqrt(nearest * nearest + reach * reach) * width;
    let sum = 0;
    for (let k = low - 1; k >= 0 && value - own[k] <= farthest; k--)
      sum += mass[k] * Math.exp(exponent - ((value - own[k]) / width) ** 2 / 2);
    for (let k = low; k < own.length && own[k] - value <= farthest; k++)
      sum += mass[k] * Math.exp(exponent - ((own[k] - value) / width) ** 2 / 2);
    return constant - exponent + Math.log(sum);
  };
}
