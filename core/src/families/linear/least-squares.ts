import {
  blockRows,
  factorise,
  invertTriangle,
  solveTriangle,
  TallFactor,
} from '../../numeric/index.ts';
import type { Inputs } from '../../preparation/index.ts';
import { centre, fillBlock, newBlock, uncentre, type Centred } from '../shared/index.ts';

/** The least-squares estimate. Intercept first everywhere. */
export interface LeastSquares {
  estimates: Float64Array;
  /** (XᵗX)⁻¹, row-major; times the residual variance it is the covariance. */
  unscaled: Float64Array;
  /** False where an input repeats earlier ones; its estimate is 0. Without the intercept. */
  kept: boolean[];
  /** Sum of the weights: patients, where each counts once. */
  patients: number;
  residualSquares: number;
  /** About the mean. */
  totalSquares: number;
  /** About zero: what rounding is measured by. */
  squares: number;
}

/** An input of which less than this share is its own repeats the others (common practice). */
const ownShare = 1e-7;

/**
 * Least squares by QR: inputs are centred and scaled, and turned into a triangle block by block, so
 * that badly conditioned inputs keep their digits where the normal equations would lose them.
 */
export function leastSquares(
  inputs: Inputs,
  values: Float64Array,
  weights?: Float64Array,
): LeastSquares {
  const centred = centre(inputs, weights);
  const outcome = centre({ rowCount: inputs.rowCount, names: [], columns: [values] }, weights);
  const size = inputs.columns.length + 1;
  const triangle =
    (inputs.rowCount > largeCohort && triangleOfSums(centred, outcome, weights)) ||
    triangleOf(centred, { ...outcome, scales: [1], factors: [1] }, weights);
  const { kept, places, small } = independent(triangle, size);
  const count = places.length;
  const right = Float64Array.from({ length: count }, (_, i) => small[i * (count + 1) + count]);
  const square = new Float64Array(count * count);
  for (let i = 0; i < count; i++)
    for (let j = i; j < count; j++) square[i * count + j] = small[i * (count + 1) + j];
  const slopes = solveTriangle(square, count, right);
  const crossed = invertTriangle(square, count);
  let patients = 0;
  for (let i = 0; i < inputs.rowCount; i++) patients += weights ? weights[i] : 1;
  const estimates = new Float64Array(size);
  const unscaled = new Float64Array(size * size);
  estimates[0] = outcome.means[0];
  unscaled[0] = 1 / patients;
  places.forEach((place, i) => {
    estimates[place + 1] = slopes[i];
    places.forEach((other, j) => {
      unscaled[(place + 1) * size + other + 1] = crossed[i * count + j];
    });
  });
  const residual = small[(count + 1) ** 2 - 1] ** 2;
  const explained = right.reduce((sum, value) => sum + value * value, 0);
  const back = uncentre(centred, estimates, unscaled);
  return {
    estimates: back.estimates,
    unscaled: back.covariance,
    kept,
    patients,
    residualSquares: residual,
    totalSquares: residual + explained,
    squares: residual + explained + patients * outcome.means[0] ** 2,
  };
}

/** Patients above which the compiled sums are tried first: they take a tenth of the time. */
const largeCohort = 4096;

/** Of an input or outcome of which less than this share is its own, the sums lose too many digits. */
const soundShare = 1e-5;

/**
 * The same triangle from the sums of products (a Cholesky factor), where no input and not the outcome
 * is nearly told by the others: eleven digits are left then. Undefined where it would be fewer.
 */
function triangleOfSums(
  inputs: Centred,
  outcome: Centred,
  weights?: Float64Array,
): Float64Array | undefined {
  const both: Centred = {
    rowCount: inputs.rowCount,
    columns: [...inputs.columns, ...outcome.columns],
    means: [...inputs.means, ...outcome.means],
    scales: [...inputs.scales, ...outcome.scales],
    factors: [...inputs.factors, ...outcome.factors],
  };
  const size = both.columns.length;
  const block = newBlock(size + 1);
  block.sums.fill(0);
  for (let start = 0; start < both.rowCount; start += blockRows) {
    const rows = Math.min(blockRows, both.rowCount - start);
    fillBlock(block, both, start, rows);
    for (let i = 0; i < rows; i++) block.weights[i] = weights ? weights[start + i] : 1;
    block.weights.fill(0, rows);
    block.add();
  }
  const gram = new Float64Array(size * size);
  for (let j = 0; j < size; j++)
    for (let k = 0; k <= j; k++) gram[j * size + k] = block.sums[(j + 1) * (size + 1) + k + 1];
  const { lower, kept } = factorise(gram, size, soundShare);
  if (kept.includes(false)) return undefined;
  const triangle = new Float64Array(size * size);
  for (let j = 0; j < size; j++) {
    const scale = j === size - 1 ? outcome.scales[0] : 1;
    for (let k = 0; k <= j; k++) triangle[k * size + j] = scale * lower[j * size + k];
  }
  return triangle;
}

/** The triangle of all inputs and, last, the outcome. */
function triangleOf(inputs: Centred, outcome: Centred, weights?: Float64Array): Float64Array {
  const columns = [...inputs.columns, ...outcome.columns];
  const means = [...inputs.means, ...outcome.means];
  const factors = [...inputs.factors, ...outcome.factors];
  const factor = new TallFactor(columns.length);
  const roots = new Float64Array(blockRows);
  for (let start = 0; start < inputs.rowCount; start += blockRows) {
    const rows = Math.min(blockRows, inputs.rowCount - start);
    for (let i = 0; i < rows; i++) roots[i] = weights ? Math.sqrt(weights[start + i]) : 1;
    for (let j = 0; j < columns.length; j++) {
      const room = factor.columns[j];
      const column = columns[j];
      const mean = means[j];
      const scale = factors[j];
      for (let i = 0; i < rows; i++) room[i] = (column[start + i] - mean) * scale * roots[i];
      if (rows < blockRows) room.fill(0, rows);
    }
    factor.absorb();
  }
  return factor.triangle;
}

/** Leaves out, one after the other, the inputs that those before them tell, and gives the triangle of the rest. */
function independent(triangle: Float64Array, size: number) {
  const kept = Array.from({ length: size - 1 }, () => true);
  let places = kept.map((_, j) => j);
  let small = triangle;
  for (let i = 0; i < places.length;) {
    const width = places.length + 1;
    let squares = 0;
    for (let row = 0; row <= i; row++) squares += small[row * width + i] ** 2;
    if (Math.abs(small[i * width + i]) > ownShare * Math.sqrt(squares)) {
      i++;
      continue;
    }
    kept[places[i]] = false;
    places = places.filter((_, place) => place !== i);
    small = without(small, width, i);
  }
  return { kept, places, small };
}

/** The triangle without one of its columns. */
function without(triangle: Float64Array, size: number, left: number): Float64Array {
  const factor = new TallFactor(size - 1, size);
  let to = 0;
  for (let j = 0; j < size; j++) {
    if (j === left) continue;
    const column = factor.columns[to++];
    for (let i = 0; i <= j; i++) column[i] = triangle[i * size + j];
  }
  factor.absorb();
  return factor.triangle;
}
