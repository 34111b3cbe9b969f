import { along, withinNullSpace } from '../shared/index.ts';
import { placeOf, type Graded } from './information.ts';

/** A direction of thresholds and slopes in which no patient's own level becomes less likely. */
export interface Direction {
  /** By input, in SDs of the input. */
  slopes: Float64Array;
  /** How many patients become more certain. */
  patients: number;
}

/** Densities at a threshold that are larger than about this belong to patients who are not settled by it. */
const certain = 1e-6;

/**
 * Proves separation for an ordered outcome, or finds none: a direction is wanted that moves no
 * patient's linear predictor against a threshold that still matters for the patient, and all others
 * away from theirs. (Albert & Anderson 1984, Biometrika 71:1-10, carried over to cumulative logits.)
 *
 * @param estimates on the scale of the centred inputs, thresholds first, as far as the steps came
 */
export function separatingDirection(fit: Graded, estimates: Float64Array): Direction | undefined {
  const { steps, thresholds } = fit;
  const direction = withinNullSpace(gramOf(fit, estimates), estimates.length, estimates);
  if (!direction) return undefined;
  const linear = linearOf(fit, direction);
  let largest = 0;
  const margins = (i: number) => [
    ...(steps[i] < thresholds ? [direction[steps[i]] - linear[i]] : []),
    ...(steps[i] > 0 ? [linear[i] - direction[steps[i] - 1]] : []),
  ];
  for (let i = 0; i < linear.length; i++)
    for (const margin of margins(i)) largest = Math.max(largest, Math.abs(margin));
  if (!(largest > 0)) return undefined;
  let patients = 0;
  for (let i = 0; i < linear.length; i++) {
    const found = margins(i);
    // Rounding leaves those who do not move a millionth of the largest move or so.
    if (Math.min(...found) < -1e-5 * largest) return undefined;
    if (Math.max(...found) > 1e-5 * largest) patients++;
  }
  return patients > 0 ? { slopes: direction.slice(thresholds), patients } : undefined;
}

function linearOf({ inputs, thresholds }: Graded, estimates: Float64Array): Float64Array {
  const slopes = new Float64Array(inputs.columns.length + 1);
  slopes.set(estimates.subarray(thresholds), 1);
  return along(inputs, slopes);
}

/** Sums of z zᵗ, where z is a threshold less the inputs, over the thresholds that matter for a patient. */
function gramOf(fit: Graded, estimates: Float64Array): Float64Array {
  const { inputs, steps, thresholds } = fit;
  const size = estimates.length;
  const gram = new Float64Array(size * size);
  const linear = linearOf(fit, estimates);
  const row = new Float64Array(size);
  for (let i = 0; i < linear.length; i++) {
    const place = placeOf(estimates.subarray(0, thresholds), steps[i], linear[i]);
    if (!place) continue;
    const matters = [
      [steps[i], place.upper * (1 - place.upper)],
      [steps[i] - 1, place.lower * (1 - place.lower)],
    ].filter(([k, density]) => k >= 0 && k < thresholds && density > certain);
    if (matters.length === 0) continue;
    inputs.columns.forEach((column, j) => {
      row[thresholds + j] = -(column[i] - inputs.means[j]) * inputs.factors[j];
    });
    for (const [k] of matters) {
      row.fill(0, 0, thresholds);
      row[k] = 1;
      for (let a = 0; a < size; a++)
        if (row[a] !== 0) for (let b = 0; b <= a; b++) gram[a * size + b] += row[a] * row[b];
    }
  }
  for (let a = 0; a < size; a++)
    for (let b = 0; b < a; b++) gram[b * size + a] = gram[a * size + b];
  return gram;
}
