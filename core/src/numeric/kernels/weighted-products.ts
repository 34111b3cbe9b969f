import { compileWasm } from './compile.ts';
import { wasm } from './weighted-products.wasm.ts';

/** Patients a block: thirty columns of it fill the nearest caches. */
export const blockRows = 256;

/**
 * Room for one block of patients, and the three sums that a fit takes over its inputs. Fill what a
 * call reads (what is beyond the block's end with 0), then call it.
 */
export interface ProductBlock {
  /** One a column, `blockRows` numbers each. */
  columns: Float64Array[];
  /** One a column. */
  slopes: Float64Array;
  /** Σ slope × column by patient, after `combine`. */
  linear: Float64Array;
  combine: () => void;
  weights: Float64Array;
  /** Lower triangle of Σ w x xᵗ, size × size, row-major, to which `add` adds. */
  sums: Float64Array;
  add: () => void;
  residual: Float64Array;
  /** Σ residual × column by column, to which `project` adds. */
  score: Float64Array;
  project: () => void;
}

/**
 * The compiled block where the machine has WebAssembly with SIMD, the plain one elsewhere. Both give
 * the same sums up to rounding.
 *
 * @param size columns, at least 1
 */
export function productBlock(size: number): ProductBlock {
  return compiledBlock(size) ?? plainBlock(size);
}

/** What is compiled; everything stands at an address. */
export interface ProductKernel {
  addProducts: (
    columns: number,
    weights: number,
    scaled: number,
    sums: number,
    rows: number,
    size: number,
  ) => void;
  combine: (columns: number, slopes: number, to: number, rows: number, size: number) => void;
  project: (columns: number, values: number, sums: number, rows: number, size: number) => void;
}

/** Undefined where the machine cannot run it. */
export function compiledBlock(size: number): ProductBlock | undefined {
  const kernelModule = compileWasm(wasm);
  if (!kernelModule) return undefined;
  const number = 8;
  const columnBytes = blockRows * number;
  const start = 1024;
  const weightsAt = start + size * columnBytes;
  const scaledAt = weightsAt + columnBytes;
  const linearAt = scaledAt + 2 * columnBytes;
  const residualAt = linearAt + columnBytes;
  const slopesAt = residualAt + columnBytes;
  const scoreAt = slopesAt + size * number;
  const sumsAt = scoreAt + size * number;
  const end = sumsAt + size * size * number;
  const memory = new WebAssembly.Memory({ initial: Math.ceil(end / 65_536) });
  const { exports } = new WebAssembly.Instance(kernelModule, { env: { memory } });
  const { addProducts, combine, project } = exports as unknown as ProductKernel;
  const view = (at: number, length: number) => new Float64Array(memory.buffer, at, length);
  return {
    columns: Array.from({ length: size }, (_, j) => view(start + j * columnBytes, blockRows)),
    weights: view(weightsAt, blockRows),
    sums: view(sumsAt, size * size),
    add: () => addProducts(start, weightsAt, scaledAt, sumsAt, blockRows, size),
    slopes: view(slopesAt, size),
    linear: view(linearAt, blockRows),
    combine: () => combine(start, slopesAt, linearAt, blockRows, size),
    residual: view(residualAt, blockRows),
    score: view(scoreAt, size),
    project: () => project(start, residualAt, scoreAt, blockRows, size),
  };
}

/** The same in plain TypeScript, four products at a time. */
export function plainBlock(size: number): ProductBlock {
  const columns = Array.from({ length: size }, () => new Float64Array(blockRows));
  const weights = new Float64Array(blockRows);
  const scaled = new Float64Array(blockRows);
  const sums = new Float64Array(size * size);
  const slopes = new Float64Array(size);
  const linear = new Float64Array(blockRows);
  const residual = new Float64Array(blockRows);
  const score = new Float64Array(size);
  const combine = () => {
    linear.fill(0);
    for (let j = 0; j < size; j++)
      for (let i = 0; i < blockRows; i++) linear[i] += slopes[j] * columns[j][i];
  };
  const project = () => {
    for (let j = 0; j < size; j++) score[j] += product(residual, columns[j]);
  };
  const add = () => {
    for (let j = 0; j < size; j++) {
      const column = columns[j];
      for (let i = 0; i < blockRows; i++) scaled[i] = weights[i] * column[i];
      let k = 0;
      for (; k + 3 <= j; k += 4)
        addFour(
          scaled,
          columns[k],
          columns[k + 1],
          columns[k + 2],
          columns[k + 3],
          sums,
          j * size + k,
        );
      for (; k <= j; k++) sums[j * size + k] += product(scaled, columns[k]);
    }
  };
  return { columns, slopes, linear, combine, weights, sums, add, residual, score, project };
}

function addFour(
  scaled: Float64Array,
  a: Float64Array,
  b: Float64Array,
  c: Float64Array,
  d: Float64Array,
  sums: Float64Array,
  at: number,
): void {
  let sumA = 0;
  let sumB = 0;
  let sumC = 0;
  let sumD = 0;
  for (let i = 0; i < blockRows; i++) {
    const x = scaled[i];
    sumA += x * a[i];
    sumB += x * b[i];
    sumC += x * c[i];
    sumD += x * d[i];
  }
  sums[at] += sumA;
  sums[at + 1] += sumB;
  sums[at + 2] += sumC;
  sums[at + 3] += sumD;
}

function product(scaled: Float64Array, column: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < blockRows; i++) sum += scaled[i] * column[i];
  return sum;
}
