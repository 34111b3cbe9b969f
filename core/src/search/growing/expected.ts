import { randomStream } from '../../numeric/index.ts';

/** A measure with so many patients learned from. */
export interface GrowingPoint {
  patients: number;
  value: number;
  /** Its standard error over the folds. */
  error: number;
}

/** What more patients would be expected to bring. */
export interface Growth {
  /** Patients that a fold learns from now, and the measure by the curve. */
  patients: number;
  now: number;
  /** What twice as many would add to it, with its 95% interval. */
  gain: number;
  interval: [number, number];
}

// How fast what is lacking falls with patients: half of it at four times as many is usual (0.5).
const powers = Array.from({ length: 16 }, (_, i) => 0.1 + i * 0.1);
const draws = 400;

/**
 * The measure at twice the patients, by an inverse power of their number (Figueroa, Zeng-Treitler, Kandula & Ngo 2012,
 * BMC Med Inform Decis Mak 12:8), fitted by weighted least squares; the interval by drawing each point anew from its
 * standard error. Undefined with fewer than four points, as a curve has three unknowns.
 */
export function growthOf(points: GrowingPoint[], seed: number): Growth | undefined {
  if (points.length < 4 || points.some(({ error }) => !(error >= 0))) return undefined;
  const patients = Math.max(...points.map((point) => point.patients));
  const floor = Math.max(1e-9, ...points.map(({ error }) => error)) / 10;
  const weights = points.map(({ error }) => 1 / Math.max(floor, error) ** 2);
  const gainOf = (values: number[]) => {
    const { at } = curveThrough(
      points.map((point) => point.patients / patients),
      values,
      weights,
    );
    return { now: at(1), gain: at(2) - at(1) };
  };
  const { now, gain } = gainOf(points.map(({ value }) => value));
  const draw = randomStream(seed, 'growth');
  const gains = Array.from(
    { length: draws },
    () => gainOf(points.map(({ value, error }) => value + error * draw.normal())).gain,
  ).sort((a, b) => a - b);
  const at = (share: number) => gains[Math.round(share * (draws - 1))];
  return { patients, now, gain, interval: [at(0.025), at(0.975)] };
}

/** a + b x⁻ᶜ with the least weighted squares over the powers. */
function curveThrough(x: number[], y: number[], weights: number[]) {
  let best = { squares: Infinity, at: (_: number) => NaN };
  for (const power of powers) {
    const z = x.map((one) => one ** -power);
    const total = weights.reduce((sum, w) => sum + w, 0);
    const mean = (of: number[]) => of.reduce((sum, one, i) => sum + weights[i] * one, 0) / total;
    const [zMean, yMean] = [mean(z), mean(y)];
    const [zz, zy] = [
      z.reduce((sum, one, i) => sum + weights[i] * (one - zMean) ** 2, 0),
      z.reduce((sum, one, i) => sum + weights[i] * (one - zMean) * (y[i] - yMean), 0),
    ];
    const b = zz > 0 ? zy / zz : 0;
    const at = (one: number) => yMean + b * (one ** -power - zMean);
    const squares = x.reduce((sum, one, i) => sum + weights[i] * (y[i] - at(one)) ** 2, 0);
    if (squares < best.squares) best = { squares, at };
  }
  return best;
}
